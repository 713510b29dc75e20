<script setup lang="ts">
import { computed, ref } from "vue";

import { useWholeStill } from "../../stage/framed/whole";
import { useDrag, useNudge, type Place } from "../../parts/drag";
import { asShare } from "../../parts/shares";
import { useShot } from "../../stores/shot";
import { useMove } from "./move";

/** The whole still with the view's frames on it, the way of its middle, and the one that is worked on to be dragged. */
const shot = useShot();
const move = useMove();
const box = ref<HTMLElement>();
const { shown, refusal, waiting } = useWholeStill(1280);
const outlines = computed(() =>
  (move.travel?.outlines ?? []).map((corners) => `M${corners.map(([x, y]) => `${x} ${y}`).join("L")}Z`),
);
const path = computed(() => (move.travel?.path ?? []).map(([x, y], place) => `${place ? "L" : "M"}${x} ${y}`).join(""));
const labels = computed(() =>
  (move.travel?.outlines ?? []).map(([corner], place, all) => ({
    left: `${corner![0] * 100}%`,
    top: `${corner![1] * 100}%`,
    words: all.length < 2 ? "" : place === 0 ? "start" : place === all.length - 1 ? "end" : String(place + 1),
  })),
);

function inside(corners: readonly (readonly [number, number])[], at: { x: number; y: number }): boolean {
  return corners.every(([x, y], place) => {
    const [nextX, nextY] = corners[(place + 1) % corners.length]!;
    return (nextX - x) * (at.y - y) - (nextY - y) * (at.x - x) >= 0;
  });
}

/** The frame under the pointer: the one that is worked on if it is there, else the smallest. */
function under(at: { x: number; y: number }): number | undefined {
  const all = (move.travel?.outlines ?? []) as [number, number][][];
  // Where they lie is not known yet: it is the one that is worked on.
  if (all.length !== move.move.views.length) return move.chosen;
  const hit = all.map((corners, place) => ({ place, corners })).filter(({ corners }) => inside(corners, at));
  if (hit.some(({ place }) => place === move.chosen)) return move.chosen;
  const size = (corners: [number, number][]) =>
    Math.hypot(corners[1]![0] - corners[0]![0], corners[1]![1] - corners[0]![1]);
  return hit.sort((one, other) => size(one.corners) - size(other.corners))[0]?.place;
}

const moved = (from: Place, by: Place) => move.attempt({ x: share(from.x + by.x), y: share(from.y + by.y) });
const drag = useDrag<Place>(box, {
  take(at) {
    const place = move.move.views.length ? under(at) : undefined;
    if (place === undefined) return undefined;
    if (place !== move.chosen) move.choose(place);
    return { x: move.view!.x, y: move.view!.y };
  },
  pull: (from, _, by) => moved(from, by),
  keep: () => shot.settle(),
  drop: () => shot.drop(),
});
const keys = useNudge(
  0.002,
  (by) => move.view && moved(move.view, by),
  () => shot.settle(),
);

function wheel(event: WheelEvent): void {
  if (!move.view) return;
  const closeness = Math.max(1, Math.min(20, move.view.closeness * Math.exp(-event.deltaY * 0.0012)));
  void move.set({ closeness: Math.round(closeness * 1000) / 1000 });
}

function share(value: number): number {
  return Math.round(asShare(value) * 10000) / 10000;
}
</script>

<template>
  <p v-if="refusal" class="note" role="alert">{{ refusal }}</p>
  <div
    v-else
    ref="box"
    class="travel"
    tabindex="0"
    role="application"
    aria-label="The way of the view over the still: drag its frames, turn the wheel to come closer, arrow keys move the one that is worked on"
    v-on="{ ...drag.on, ...keys }"
    @wheel.prevent="wheel"
  >
    <img v-if="shown" :src="shown.source" :alt="`Still ${shot.shown + 1} whole`" draggable="false" />
    <p v-else-if="waiting" class="note" role="status">Being made …</p>
    <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
      <g
        v-for="(one, place) in outlines"
        :key="place"
        :class="{ worked: place === move.chosen, last: place > 0 && place === outlines.length - 1 }"
      >
        <path class="dark" :d="one" />
        <path class="edge" :d="one" />
      </g>
      <path class="dark" :d="path" />
      <path class="way" :d="path" />
    </svg>
    <span
      v-for="(one, place) in labels"
      v-show="one.words"
      :key="place"
      class="label"
      :class="{ worked: place === move.chosen }"
      :style="{ left: one.left, top: one.top }"
      >{{ one.words }}</span
    >
  </div>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.travel {
  box-shadow: 0 0 0 1px var(--picture-edge);
  cursor: move;
  height: 100%;
  overflow: hidden;
  position: relative;
  touch-action: none;
  width: 100%;
}

.travel:focus-visible {
  outline: 2px solid var(--line);
  outline-offset: 3px;
}

path {
  fill: none;
  vector-effect: non-scaling-stroke;
}

.dark {
  stroke: var(--under-mark);
  stroke-width: 4;
}

.edge {
  stroke: var(--on-picture);
  stroke-width: 1.6;
}

.last .edge {
  stroke-dasharray: 8 5;
}

.worked .edge {
  stroke: var(--chosen-mark);
  stroke-width: 2.6;
}

.way {
  stroke: var(--chosen-mark);
  stroke-width: 2;
}

.label {
  background: var(--paper);
  border-radius: 0 0 3px;
  font-size: var(--type-tiny);
  padding: 0 0.35rem;
  pointer-events: none;
  position: absolute;
}

.label.worked {
  background: var(--chosen-mark);
  color: var(--ink);
}
</style>
