<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import NumberField from "../../parts/NumberField.vue";
import { useLight, type SettingName } from "./light";

/** A setting by its number, and whether and where it changes over the shot. */
const props = defineProps<{ name: SettingName; label: string; min: number; max: number; step: number; places: number; unit?: string }>();

const shot = useShot();
const light = useLight();
const keyframes = computed(() => {
  const at = new Map(shot.stills.stills.map((one) => [one.id, one.position]));
  return light.light[props.name].keyframes
    .map((one) => ({ ...one, position: at.get(one.still) }))
    .sort((one, other) => (one.position ?? Infinity) - (other.position ?? Infinity));
});
</script>

<template>
  <div class="setting">
    <NumberField :label="label" :value="light.valueOf(name)" :min="min" :max="max" :step="step" :places="places" :unit="unit" @change="light.setValues({ [name]: $event })" />
    <label class="changing">
      <input type="checkbox" :checked="keyframes.length > 0" :aria-label="`${label} changes over the shot`" @change="light.toggleChanging(name)" />
      changes over the shot
    </label>
    <ul v-if="keyframes.length" :aria-label="`${label} over the shot`">
      <li v-for="one in keyframes" :key="one.still">
        <button v-if="one.position !== undefined" type="button" class="plain-button" @click="shot.goTo(one.position)">still {{ (one.position + 1).toLocaleString("en") }}</button>
        <span v-else class="quiet">a still that was taken out</span>
        <span class="number">{{ one.value.toFixed(places) }}{{ unit ?? "" }}</span>
        <button type="button" class="plain-button" :aria-label="`forget ${label} at this still`" @click="light.removeKeyframe(name, one.still)">forget</button>
      </li>
      <li v-if="keyframes.length === 1" class="quiet">Go to another still and change it there.</li>
    </ul>
  </div>
</template>

<style scoped>
.setting {
  display: grid;
  gap: 0.25rem;
}

.changing {
  align-items: center;
  color: var(--soft-ink);
  display: flex;
  font-size: 0.92rem;
  gap: 0.45rem;
}

ul {
  display: grid;
  gap: 0.15rem;
  list-style: none;
  margin: 0;
  padding: 0 0 0 1.5rem;
}

li {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: minmax(0, 1fr) auto auto;
}

li > :first-child {
  justify-self: start;
}

li.quiet {
  grid-template-columns: 1fr;
}
</style>
