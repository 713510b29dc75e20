<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { placeIn } from "../../stage/picture";
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
let dragged: { part: Part; from: { x: number; y: number }; band: Band } | undefined;

/** A line along the band, so many heights of the frame beside its middle. */
function line(away: number): string {
  const [cosine, sine] = [Math.cos(turn.value), Math.sin(turn.value)];
  const { x, y } = { x: middle.value.x - sine * away, y: middle.value.y + cosine * away };
  const far = 3;
  return `M${x - cosine * far} ${y - sine * far}L${x + cosine * far} ${y + sine * far}`;
}

function at(event: PointerEvent): { x: number; y: number } {
  const { x, y } = placeIn(tool.value!, event);
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

function press(event: PointerEvent): void {
  if (event.button !== 0) return;
  const from = at(event);
  tool.value!.setPointerCapture(event.pointerId);
  dragged = { part: partAt(from), from, band: model.band };
}

const rounded = (value: number, least: number, most: number) =>
  Math.round(Math.max(least, Math.min(most, value)) * 10000) / 10000;

function drag(event: PointerEvent): void {
  if (!dragged) return;
  const place = at(event);
  const { part, from, band } = dragged;
  if (part === "middle")
    model.attempt({
      x: rounded(band.x + (place.x - from.x) / aspect.value, 0, 1),
      y: rounded(band.y + place.y - from.y, 0, 1),
    });
  else if (part === "width") model.attempt({ width: rounded(2 * awayFrom(place), 0, 1) });
  else if (part === "softness") model.attempt({ softness: rounded(awayFrom(place) - band.width / 2, 0.02, 1.5) });
  else {
    const angle = (Math.atan2(place.y - middle.value.y, place.x - middle.value.x) * 180) / Math.PI;
    model.attempt({ angle_deg: Math.round((((angle + 270) % 180) - 90) * 10) / 10 });
  }
}

function release(): void {
  if (dragged) void shot.settle();
  dragged = undefined;
}

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

function nudge(event: KeyboardEvent): void {
  const arrow = arrows[event.key];
  if (!arrow) return;
  event.preventDefault();
  event.stopPropagation();
  const by = event.shiftKey ? 0.05 : 0.005;
  model.attempt({ x: rounded(model.band.x + arrow[0] * by, 0, 1), y: rounded(model.band.y + arrow[1] * by, 0, 1) });
}
</script>

<template>
  <div
    ref="tool"
    class="tool"
    tabindex="0"
    role="application"
    aria-label="The band that stays sharp: drag its middle, its edges or the knob that turns it; arrow keys move it"
    @pointerdown="press"
    @pointermove="drag"
    @pointerup="release"
    @pointercancel="release"
    @keydown="nudge"
    @keyup="shot.settle()"
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
