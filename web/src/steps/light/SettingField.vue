<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import NumberField from "../../parts/NumberField.vue";
import { useLight } from "./light";
import { settingAt } from "./settings";

/** A setting by its number, and whether and where it changes over the shot. `whole` is for what an area cannot have. */
const props = defineProps<{
  name: string;
  label: string;
  min: number;
  max: number;
  step: number;
  places: number;
  unit?: string;
  whole?: boolean;
}>();

const shot = useShot();
const light = useLight();
const begin = computed(() => (props.whole ? "" : light.begin));
const path = computed(() => begin.value + props.name);
const keyframes = computed(() =>
  settingAt(light.light, path.value)
    .keyframes.map((one) => ({ ...one, position: shot.positions.get(one.still) }))
    .sort((one, other) => (one.position ?? Infinity) - (other.position ?? Infinity)),
);
</script>

<template>
  <div class="setting">
    <NumberField
      :label="label"
      :value="light.valueAt(path)"
      :min="min"
      :max="max"
      :step="step"
      :places="places"
      :unit="unit"
      @change="light.setValues({ [name]: $event }, begin)"
    />
    <label
      class="changing"
      title="What it is goes with the still that is looked at; between such stills it changes smoothly."
    >
      <input
        type="checkbox"
        :checked="keyframes.length > 0"
        :aria-label="`${label} changes over the shot`"
        @change="light.toggleChanging(path)"
      />
      changes
    </label>
    <ul v-if="keyframes.length" :aria-label="`${label} over the shot`">
      <li v-for="one in keyframes" :key="one.still">
        <button v-if="one.position !== undefined" type="button" class="plain-button" @click="shot.goTo(one.position)">
          still {{ (one.position + 1).toLocaleString("en") }}
        </button>
        <span v-else class="quiet">a still that was taken out</span>
        <span class="number">{{ one.value.toFixed(places) }}{{ unit ?? "" }}</span>
        <button
          type="button"
          class="plain-button"
          :aria-label="`forget ${label} at this still`"
          @click="light.removeKeyframe(path, one.still)"
        >
          forget
        </button>
      </li>
      <li v-if="keyframes.length === 1" class="quiet">Go to another still and change it there.</li>
    </ul>
  </div>
</template>

<style scoped>
.setting {
  align-items: center;
  display: grid;
  gap: 0.1rem 0.6rem;
  grid-template-columns: minmax(0, 1fr) auto;
}

.changing {
  align-items: center;
  color: var(--soft-ink);
  display: flex;
  font-size: var(--type-small);
  gap: 0.3rem;
}

ul {
  display: grid;
  gap: 0.15rem;
  grid-column: 1 / -1;
  list-style: none;
  margin: 0;
  padding: 0 0 0.3rem 1.5rem;
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
