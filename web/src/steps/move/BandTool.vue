<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { useDrag, useNudge, type Place } from "../../parts/drag";
import { useShot } from "../../stores/shot";
import { useModel, type Band } from "./model";

/**
 * What stays sharp, drawn over the frame: its middle is dragged, its edges, where softness ends, and the knob that
 * turns it.
 */
const shot = useShot();
const model = useModel();
const tool = ref<HTMLElement>();
const { width, height } = useElementSize(tool);
const aspect = computed(() => width.value / Math.max(1, height.value));
const turn = computed(() => (model.band.angle_deg * Math.PI) / 180);
const middle = computed(() => ({ x: model.band.x * aspect.value, y: model.band.y }));
const knob = computed(() => ({
  x: middle.value.x + 0.3 * Math.cos(turn.value),
  y: middle.value.y + 0.3 * Math.sin(turn.value),
}));
const edges = computed(() => [-1, 1].map((side) => line(side * (model.band.width / 2))));
const ends = computed(() => [-1, 1].map((side) => line(side * (model.band.width / 2 + model.band.softness))));
type Part = "middle" | "width" | "softness" | "angle";

/** A line along the band, so many heights of the frame beside its middle. */
function line(away: number): string {
  const [cosine, sine] = [Math.cos(turn.value), Math.sin(turn.value)];
  const { x, y } = { x: middle.value.x - sine * away, y: middle.value.y + cosine * away };
  const far = 3;
  return `M${x - cosine * far} ${y - sine * far}L${x + cosine * far} ${y + sine * far}`;
}

/** A place of the frame, in its heights. */
function inHeights({ x, y }: Place): Place {
  return { x: x * aspect.value, y };
}

function awayFrom({ x, y }: { x: number; y: number }): number {
  return Math.abs((y - middle.value.y) * Math.cos(turn.value) - (x - middle.value.x) * Math.sin(turn.value));
}

function partAt(place: { x: number; y: number }): Part {
  const near = 10 / Math.max(1, height.value);
  const away = awayFrom(place);
  if (Math.hypot(place.x - knob.value.x, place.y - knob.value.y) < 1.6 * near) return "angle";
  if (Math.abs(away - model.band.width / 2) < near) return "width";
  if (Math.abs(away - model.band.width / 2 - model.band.softness) < near) return "softness";
  return "middle";
}

const rounded = (value: number, least: number, most: number) =>
  Math.round(Math.max(least, Math.min(most, value)) * 10000) / 10000;

const middleMoved = (band: Band, by: Place) =>
  model.attempt({ x: rounded(band.x + by.x, 0, 1), y: rounded(band.y + by.y, 0, 1) });

function pull({ part, band }: { part: Part; band: Band }, at: Place, by: Place): void {
  const place = inHeights(at);
  if (part === "middle") middleMoved(band, by);
  else if (part === "width") model.attempt({ width: rounded(2 * awayFrom(place), 0, 1) });
  else if (part === "softness") model.attempt({ softness: rounded(awayFrom(place) - band.width / 2, 0.02, 1.5) });
  else {
    const angle = (Math.atan2(place.y - middle.value.y, place.x - middle.value.x) * 180) / Math.PI;
    model.attempt({ angle_deg: Math.round((((angle + 270) % 180) - 90) * 10) / 10 });
  }
}

const drag = useDrag<{ part: Part; band: Band }>(tool, {
  take: (at) => ({ part: partAt(inHeights(at)), band: model.band }),
  pull,
  keep: () => shot.settle(),
  drop: () => shot.drop(),
});
const keys = useNudge(
  0.005,
  (by) => middleMoved(model.band, by),
  () => shot.settle(),
);
</script>

<template>
  <div
    ref="tool"
    class="tool"
    tabindex="0"
    role="application"
    aria-label="The band that stays sharp: drag its middle, its edges or the knob that turns it; arrow keys move it"
    v-on="{ ...drag.on, ...keys }"
  >
    <svg :viewBox="`0 0 ${aspect} 1`" preserveAspectRatio="none" aria-hidden="true">
      <template v-for="(one, side) in edges" :key="side">
        <path class="dark" :d="one" />
        <path class="edge" :d="one" />
        <path class="dark" :d="ends[side]" />
        <path class="edge end" :d="ends[side]" />
      </template>
      <path class="dark" :d="`M${middle.x} ${middle.y}L${knob.x} ${knob.y}`" />
      <path class="arm" :d="`M${middle.x} ${middle.y}L${knob.x} ${knob.y}`" />
      <circle :cx="knob.x" :cy="knob.y" :r="7 / Math.max(1, height)" />
    </svg>
  </div>
</template>

<style scoped>
.tool {
  cursor: move;
  inset: 0;
  overflow: hidden;
  position: absolute;
  touch-action: none;
}

.tool:focus-visible {
  outline: 2px solid var(--line);
  outline-offset: 3px;
}

svg {
  display: block;
  height: 100%;
  width: 100%;
}

path {
  fill: none;
  vector-effect: non-scaling-stroke;
}

.dark {
  stroke: var(--under-mark);
  stroke-width: 3.5;
}

.edge,
.arm {
  stroke: var(--on-picture);
  stroke-width: 1.5;
}

.end {
  stroke-dasharray: 3 6;
}

circle {
  fill: var(--chosen-mark);
  stroke: var(--under-mark);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}
</style>
