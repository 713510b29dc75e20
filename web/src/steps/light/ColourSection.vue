<script setup lang="ts">
import { computed, ref } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useFrames } from "../../stage/frames";
import DragField from "./DragField.vue";
import HueCircle from "./HueCircle.vue";
import { useLight } from "./light";
import SettingField from "./SettingField.vue";

const frames = useFrames();
const light = useLight();
const leans = ref<"all" | "dark" | "bright">("all");
const parts = { all: "everything", dark: "dark parts", bright: "bright parts" } as const;
const way = computed(() => {
  const prefix = leans.value === "all" ? "" : `${leans.value}_`;
  const [warm, red, step] = leans.value === "all" ? [150, 40, 1] : [1, 1, 0.01];
  return {
    x: { name: `${prefix}warmth`, most: warm, step, words: ["cold", "warm"] as [string, string] },
    y: { name: `${prefix}tint`, most: red, step, words: ["green", "red"] as [string, string] },
  };
});
const names = computed(() => [way.value.x.name, way.value.y.name]);
const leansAnywhere = computed(() => names.value.some((name) => light.valueOf(name)));
/** Stills that say the light themselves are balanced in kelvin: what the light is taken for. */
const measured = computed(() => (light.camera?.kelvin ? light.camera.mired : undefined));
const kelvin = computed(() => Math.round(1e6 / Math.max(40, measured.value! - light.valueOf("warmth")) / 10) * 10);

/** Where the camera balanced raw stills for different lights, as with automatic balance, colours wander. */
const differ = computed(() => light.camera?.coldest && light.camera.warmest);
const balances = computed(() => {
  if (!differ.value || !light.camera) return "";
  const [least, most, middle] = [light.camera.warmest!, light.camera.coldest!, light.camera.kelvin!].map(inKelvin);
  const shown = light.light.one_balance ? `all are shown as if for ${middle}` : "each is shown as it was shot";
  return `The camera balanced these stills for ${least} to ${most}; ${shown}.`;
});

function inKelvin(value: number): string {
  return `${(Math.round(value / 10) * 10).toLocaleString("en")} K`;
}

function setKelvin(value: number): void {
  void light.setValues({ warmth: Math.round((measured.value! - 1e6 / value) * 10) / 10 });
}

function pick(): void {
  frames.show("frame");
  frames.drawing = frames.drawing === "grey" ? undefined : "grey";
}
</script>

<template>
  <section>
    <h2>Colour</h2>
    <p class="acts">
      <button
        v-for="(words, name) in parts"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="leans === name"
        @click="leans = name"
      >
        {{ words }}
      </button>
    </p>
    <DragField class="light" :x="way.x" :y="way.y" :label="`The colour ${parts[leans]} lean to`" />
    <p class="acts">
      <button
        v-if="leans === 'all' && !light.worked"
        type="button"
        class="plain-button"
        :aria-pressed="frames.drawing === 'grey'"
        @click="pick"
      >
        {{ frames.drawing === "grey" ? "click on it in the picture" : "something here is grey …" }}
      </button>
      <button
        v-if="leansAnywhere"
        type="button"
        class="plain-button"
        @click="light.setValues({ [names[0]!]: 0, [names[1]!]: 0 })"
      >
        as shot
      </button>
    </p>
    <template v-if="leans === 'all'">
      <NumberField
        v-if="measured"
        label="the light is taken for"
        :value="kelvin"
        :min="1700"
        :max="25000"
        :step="50"
        unit=" K"
        @change="setKelvin"
      />
      <label v-if="differ || light.light.one_balance" class="check">
        <input
          type="checkbox"
          :checked="light.light.one_balance"
          @change="light.set('one_balance', !light.light.one_balance, '')"
        />
        one balance for all stills
      </label>
      <p v-if="differ" class="quiet words">{{ balances }}</p>
      <SettingField name="warmth" label="warmth" :min="-250" :max="250" :step="2" :places="0" unit=" mired" />
      <SettingField name="tint" label="red against green" :min="-60" :max="60" :step="1" :places="0" />
    </template>
    <template v-else>
      <SettingField :name="names[0]!" label="warm against cold" :min="-1" :max="1" :step="0.05" :places="2" />
      <SettingField :name="names[1]!" label="red against green" :min="-1" :max="1" :step="0.05" :places="2" />
    </template>
  </section>
  <section>
    <h2>Hues</h2>
    <HueCircle />
    <label class="check">
      <input
        type="checkbox"
        :checked="light.grade.monochrome"
        @change="light.set('monochrome', !light.grade.monochrome)"
      />
      black and white; then each part of the circle is made lighter or darker
    </label>
    <template v-if="!light.grade.monochrome">
      <SettingField name="saturation" label="more or less colour" :min="-1" :max="1" :step="0.05" :places="2" />
      <SettingField name="muted" label="of what is muted alone" :min="-1" :max="1" :step="0.05" :places="2" />
    </template>
  </section>
</template>

<style scoped>
.light {
  background:
    linear-gradient(to bottom, var(--lean-green), var(--lean-none) 50%, var(--lean-magenta)),
    linear-gradient(to right, var(--lean-blue), var(--lean-grey) 50%, var(--lean-amber));
}
</style>
