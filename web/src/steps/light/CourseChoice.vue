<script setup lang="ts">
import { computed } from "vue";

import type { LightCourse } from "../../api/client";
import { endsOf, lineOf } from "./course";
import type { Light } from "./settings";

/** Which way the light of the shot goes where the camera changed its exposure: each as a small plot to choose from. */
const props = defineProps<{ even: Light["even"]; course?: LightCourse }>();
defineEmits<{ choose: [course: Exclude<Light["even"]["course"], "drawn">]; draw: [] }>();

const [width, height] = [112, 28] as const;
const ways = [
  { course: "followed", words: "as the camera followed" },
  { course: "even", words: "spread evenly" },
  { course: "as seen", words: "as the eye saw it" },
] as const;
const isDrawn = computed(() => props.even.course === "drawn");
/** What is drawn begins as what is planned. */
const drawn = computed(() => {
  if (!isDrawn.value) return props.course?.ways[props.even.course] ?? [];
  const planned = props.course?.planned ?? [];
  const every = Math.max(1, Math.ceil(planned.length / 48));
  return planned.filter((_, place) => place % every === 0);
});
const ends = computed(() => endsOf([...Object.values(props.course?.ways ?? {}).flat(), ...drawn.value], 0.15, 0.12));
const line = (values: readonly number[] = []) => lineOf(values, ends.value, width, height);
</script>

<template>
  <div class="ways" role="group" aria-label="The course of light">
    <button
      v-for="{ course: way, words } in ways"
      :key="way"
      type="button"
      :aria-pressed="even.course === way"
      @click="$emit('choose', way)"
    >
      <svg :viewBox="`0 0 ${width} ${height}`" preserveAspectRatio="none" aria-hidden="true">
        <path :d="line(course?.ways[way])" />
      </svg>
      {{ words }}
    </button>
    <button type="button" :aria-pressed="isDrawn" :disabled="!course?.planned.length" @click="$emit('draw')">
      <svg :viewBox="`0 0 ${width} ${height}`" preserveAspectRatio="none" aria-hidden="true">
        <path :class="{ begun: !isDrawn }" :d="line(drawn)" />
      </svg>
      as it is drawn
    </button>
  </div>
</template>

<style scoped>
.ways {
  display: grid;
  gap: 0.5rem;
  grid-template-columns: 1fr 1fr;
}

button {
  background: var(--paper);
  border: 1px solid var(--hair);
  border-radius: var(--round);
  color: inherit;
  cursor: pointer;
  font: inherit;
  font-size: var(--type-small);
  line-height: 1.25;
  padding: 0.35rem 0.45rem;
  text-align: left;
}

button:disabled {
  color: var(--soft-ink);
  cursor: default;
  opacity: 0.6;
}

button[aria-pressed="true"] {
  background: var(--line-pale);
  border-color: var(--line);
}

svg {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  display: block;
  height: 28px;
  margin-bottom: 0.2rem;
  width: 100%;
}

path {
  fill: none;
  stroke: var(--line);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}

.begun {
  stroke-dasharray: 3 3;
}
</style>
