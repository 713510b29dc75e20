<script setup lang="ts">
import Slider from "primevue/slider";
import { computed, ref } from "vue";

import type { Fit } from "../../api/client";
import { frameMoved } from "../../stage/framed/framing";
import { useWholeStill } from "../../stage/framed/whole";
import { useDrag } from "../../parts/drag";
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
    name:
      row.name === column.name
        ? "middle"
        : column.name === "middle"
          ? row.name
          : row.name === "middle"
            ? column.name
            : `${row.name} ${column.name}`,
  })),
);
const least = computed(() => (fit.value.how === "contain" ? 0.1 : 1));
/** Zoom is felt by factors: a slider over its logarithm moves evenly. */
const closeness = computed(() => Math.round(Math.log2(fit.value.zoom) * 100));

const box = ref<HTMLElement>();
const seen = computed(() => shot.brief?.seen);
const { shown } = useWholeStill(320);
const outline = computed(() => seen.value?.corners.map((corner) => corner.join(" ")).join("L") ?? "");
const shape = computed(() => (seen.value ? seen.value.width / seen.value.height : 1.5));
const drag = useDrag<Fit>(box, {
  // One of the nine places may be clicked on.
  least: 0.03,
  take: () => fit.value,
  pull(from, _, by) {
    if (seen.value) shot.tryOut({ fit: frameMoved(from, seen.value, by) });
  },
  keep: (_, moved) => moved && void shot.settle(),
  drop: () => shot.drop(),
});

function isHere(place: { x: number; y: number }): boolean {
  return Math.abs(fit.value.x - place.x) < 1e-3 && Math.abs(fit.value.y - place.y) < 1e-3;
}
</script>

<template>
  <div class="position">
    <div class="where">
      <div ref="box" class="still" :style="{ aspectRatio: shape }" v-on="drag.on">
        <img v-if="shown" :src="shown.source" alt="" draggable="false" />
        <svg v-if="outline" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
          <path class="outside" :d="`M0 0H1V1H0Z M${outline}Z`" />
          <path class="edge" :d="`M${outline}Z`" />
        </svg>
        <div class="places" role="group" aria-label="Where the picture is held">
          <button
            v-for="place in places"
            :key="place.name"
            type="button"
            :aria-label="place.name"
            :title="`${place.name}: or drag the frame`"
            :aria-pressed="isHere(place)"
            @click="shot.decide({ fit: { x: place.x, y: place.y } })"
          ></button>
        </div>
      </div>
      <div class="exact">
        <NumberField
          label="across"
          :value="fit.x * 100"
          :min="0"
          :max="100"
          :places="2"
          :step="0.5"
          unit=" %"
          @change="shot.decide({ fit: { x: $event / 100 } })"
        />
        <NumberField
          label="down"
          :value="fit.y * 100"
          :min="0"
          :max="100"
          :places="2"
          :step="0.5"
          unit=" %"
          @change="shot.decide({ fit: { y: $event / 100 } })"
        />
        <NumberField
          label="closer"
          :value="fit.zoom"
          :min="least"
          :max="20"
          :places="3"
          :step="0.05"
          unit=" ×"
          @change="shot.decide({ fit: { zoom: $event } })"
        />
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

.still {
  align-self: start;
  background: var(--hair);
  cursor: move;
  position: relative;
  touch-action: none;
  width: 132px;
}

.still img,
.still svg,
.places {
  height: 100%;
  inset: 0;
  position: absolute;
  width: 100%;
}

.still img {
  user-select: none;
}

.outside {
  fill: var(--outside-picture);
  fill-rule: evenodd;
}

.edge {
  fill: none;
  stroke: var(--on-picture);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.places {
  display: grid;
  grid-template: repeat(3, 1fr) / repeat(3, 1fr);
}

.places button {
  background: none;
  border: 0;
  cursor: move;
  padding: 0;
}

.places button:hover {
  background: var(--on-picture-faint);
}

.exact {
  display: grid;
  gap: 0.35rem;
}
</style>
