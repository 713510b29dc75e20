<script setup lang="ts">
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import DragField from "./DragField.vue";
import { useLight } from "./light";
import LensChoice from "./LensChoice.vue";
import SettingField from "./SettingField.vue";

const light = useLight();
const near = { name: "fine", most: 1, step: 0.01, words: ["smooth", "crisp"] as [string, string] };
const far = { name: "coarse", most: 1, step: 0.01, words: ["flat", "deep"] as [string, string] };
const lens = computed(() => {
  const { lens, profile: known } = light.camera ?? { lens: "", profile: null };
  const profile = light.light.lens?.name ?? known;
  if (profile) return `take out what is known of the ${profile}: bent lines, dark corners, fringes`;
  return lens
    ? `take out what the lens does: nothing is known of “${lens}” at this focal length`
    : "take out what the lens does: the stills do not say which one they were taken with";
});
</script>

<template>
  <section>
    <h2>Fine and coarse contrast</h2>
    <DragField class="grain" :x="near" :y="far" label="Contrast among neighbours, fine and coarse" />
    <SettingField name="fine" label="fine contrast" :min="-1" :max="1" :step="0.05" :places="2" />
    <SettingField name="coarse" label="coarse contrast" :min="-1" :max="1" :step="0.05" :places="2" />
    <SettingField name="haze" label="take away haze" :min="-1" :max="1" :step="0.05" :places="2" />
  </section>
  <section>
    <h2>Edges</h2>
    <SettingField name="sharpen" label="sharpening" :min="0" :max="2" :step="0.1" :places="2" />
    <label class="check">
      <input
        type="checkbox"
        :checked="light.overlayMask === 'sharpening'"
        @change="light.overlayMask = light.overlayMask === 'sharpening' ? undefined : 'sharpening'"
      />
      show what counts as an edge
    </label>
    <SettingField name="fringes" label="fringing, paled" :min="0" :max="1" :step="0.05" :places="2" />
    <template v-if="!light.worked">
      <NumberField
        label="aberration of red, in ‰"
        :value="light.light.fringe_red"
        :min="-3"
        :max="3"
        :step="0.05"
        :places="2"
        @change="light.set('fringe_red', $event, '')"
      />
      <NumberField
        label="aberration of blue, in ‰"
        :value="light.light.fringe_blue"
        :min="-3"
        :max="3"
        :step="0.05"
        :places="2"
        @change="light.set('fringe_blue', $event, '')"
      />
      <label class="check">
        <input
          type="checkbox"
          :checked="light.light.lens_profile"
          :disabled="!light.camera?.profile && !light.light.lens && !light.light.lens_profile"
          @change="light.set('lens_profile', !light.light.lens_profile, '')"
        />
        {{ lens }}
      </label>
      <LensChoice v-if="light.camera && (!light.camera.profile || light.light.lens)" />
    </template>
  </section>
  <section v-if="!light.worked">
    <h2>Noise</h2>
    <NumberField
      label="average with stills before and after"
      :value="light.light.over_time"
      :min="0"
      :max="4"
      @change="light.set('over_time', $event, '')"
    />
    <p class="quiet words">Only where nothing moves: what stands still loses its grain, what moves keeps its shape.</p>
    <SettingField name="noise" label="in each still: brightness" :min="0" :max="1" :step="0.05" :places="2" whole />
    <SettingField name="colour_noise" label="in each still: colour" :min="0" :max="1" :step="0.05" :places="2" whole />
    <p class="quiet words">Press Z over the picture to look at real pixels.</p>
  </section>
</template>

<style scoped>
.grain {
  background:
    repeating-linear-gradient(0deg, var(--grain-line) 0 1px, transparent 1px 4px),
    linear-gradient(to right, var(--grain-light), var(--grain-middle) 50%, var(--grain-dark)), var(--grain-ground);
}
</style>
