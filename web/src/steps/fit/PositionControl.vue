<script setup lang="ts">
import Slider from "primevue/slider";
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import NumberField from "../../parts/NumberField.vue";

const shot = useShot();
const fit = computed(() => shot.decisions!.fit);
const rows = [
  { y: 0, name: "top" },
  { y: 0.5, name: "middle" },
  { y: 1, name: "bottom" },
];
const columns = [
  { x: 0, name: "left" },
  { x: 0.5, name: "middle" },
  { x: 1, name: "right" },
];
const places = rows.flatMap((row) =>
  columns.map((column) => ({
    y: row.y,
    x: column.x,
    name: row.name === column.name ? "middle" : column.name === "middle" ? row.name : row.name === "middle" ? column.name : `${row.name} ${column.name}`,
  })),
);
const least = computed(() => (fit.value.how === "contain" ? 0.1 : 1));
/** Zoom is felt by factors: a slider over its logarithm moves evenly. */
const closeness = computed(() => Math.round(Math.log2(fit.value.zoom) * 100));

function isHere(place: { x: number; y: number }): boolean {
  return Math.abs(fit.value.x - place.x) < 1e-3 && Math.abs(fit.value.y - place.y) < 1e-3;
}
</script>

<template>
  <div class="position">
    <div class="where">
      <div class="nine" role="group" aria-label="Where the picture is held">
        <button
          v-for="place in places"
          :key="place.name"
          type="button"
          :aria-label="place.name"
          :title="place.name"
          :aria-pressed="isHere(place)"
          @click="shot.decide({ fit: { x: place.x, y: place.y } })"
        ></button>
      </div>
      <div class="exact">
        <NumberField label="across" :value="fit.x * 100" :min="0" :max="100" :places="2" :step="0.5" unit=" %" @change="shot.decide({ fit: { x: $event / 100 } })" />
        <NumberField label="down" :value="fit.y * 100" :min="0" :max="100" :places="2" :step="0.5" unit=" %" @change="shot.decide({ fit: { y: $event / 100 } })" />
        <NumberField label="closer" :value="fit.zoom" :min="least" :max="20" :places="3" :step="0.05" unit=" ×" @change="shot.decide({ fit: { zoom: $event } })" />
      </div>
    </div>
    <Slider
      :model-value="closeness"
      :min="Math.round(Math.log2(least) * 100)"
      :max="300"
      aria-label="How much closer"
      @update:model-value="shot.tryOut({ fit: { zoom: 2 ** (($event as number) / 100) } })"
      @slideend="shot.settle()"
      @keyup="shot.settle()"
    />
    <p class="quiet">On the stage: drag the picture, turn the wheel over it; arrow keys move it by a pixel.</p>
  </div>
</template>

<style scoped>
.position {
  display: grid;
  gap: 0.9rem;
  min-width: 16rem;
}

.where {
  display: grid;
  gap: 1rem;
  grid-template-columns: auto minmax(0, 1fr);
}

.nine {
  align-content: start;
  border: 1px solid var(--soft-ink);
  display: grid;
  grid-template-columns: repeat(3, 28px);
  grid-template-rows: repeat(3, 28px);
  height: fit-content;
}

.nine button {
  background: none;
  border: 0;
  border-radius: 2px;
  cursor: pointer;
  padding: 0;
  position: relative;
}

.nine button::after {
  background: var(--hair);
  content: "";
  height: 6px;
  inset: 0;
  margin: auto;
  position: absolute;
  width: 6px;
}

.nine button:hover {
  background: var(--shade);
}

.nine button[aria-pressed="true"] {
  background: var(--line-pale);
}

.nine button[aria-pressed="true"]::after {
  background: var(--line);
  height: 14px;
  width: 14px;
}

.exact {
  display: grid;
  gap: 0.35rem;
}
</style>
