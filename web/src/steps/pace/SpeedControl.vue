<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import { useDrag, type Place } from "../../parts/drag";
import { asShare } from "../../parts/shares";

import type { Pace } from "../../api/client";
import { useShot } from "../../stores/shot";

const shot = useShot();
const surface = ref<HTMLElement>();
const { width, height } = useElementSize(surface);
const pace = computed(() => shot.decisions!.pace);
const curve = computed(() => pace.value.curve);
const chosen = ref<number>();
const most = 8;
const lines = [4, 2, 1, 0.5, 0.25];
const begun = [
  {
    name: "slow start",
    curve: [
      { at: 0, speed: 0.5 },
      { at: 0.4, speed: 1 },
    ],
  },
  {
    name: "fast through the middle",
    curve: [
      { at: 0.15, speed: 1 },
      { at: 0.4, speed: 4 },
      { at: 0.6, speed: 4 },
      { at: 0.85, speed: 1 },
    ],
  },
  {
    name: "slow end",
    curve: [
      { at: 0.6, speed: 1 },
      { at: 1, speed: 0.4 },
    ],
  },
];
const here = computed(() => (shot.shown + 0.5) / Math.max(1, shot.count));
const path = computed(() => {
  const knots = curve.value;
  if (!knots.length) return `M0 ${top(1)}H${width.value}`;
  const points = knots.map((knot) => `${left(knot.at)} ${top(knot.speed)}`);
  return `M0 ${top(knots[0]!.speed)}L${points.join("L")}L${width.value} ${top(knots.at(-1)!.speed)}`;
});
const isWritten = computed(() => {
  const knot = chosen.value === undefined ? undefined : curve.value[chosen.value];
  return knot
    ? `${knot.speed.toPrecision(3).replace(/\.?0+$/, "")} × at still ${Math.round(knot.at * (shot.count - 1)) + 1}`
    : "Click to put a point, drag it; Delete takes it away.";
});

function left(at: number): number {
  return at * width.value;
}

function top(speed: number): number {
  return (0.5 - Math.log(speed) / Math.log(most) / 2) * height.value;
}

function knotAt({ x, y }: Place): Pace["curve"][number] {
  return { at: round(asShare(x)), speed: round(most ** (1 - 2 * asShare(y))) };
}

function round(value: number): number {
  return Math.round(value * 1000) / 1000;
}

const drag = useDrag<true>(surface, {
  take(at) {
    const [x, y] = [at.x * width.value, at.y * height.value];
    const index = curve.value.findIndex((knot) => Math.hypot(left(knot.at) - x, top(knot.speed) - y) < 12);
    if (index >= 0) chosen.value = index;
    else place(knotAt(at), undefined);
    return true;
  },
  pull(_, at) {
    if (chosen.value !== undefined) place(knotAt(at), chosen.value);
  },
  keep: () => shot.settle(),
  drop: () => shot.drop(),
});

/** Put a point in, or where it is moved to; between its neighbours the order stays. */
function place(knot: Pace["curve"][number], index: number | undefined): void {
  const others = curve.value.filter((_, one) => one !== index);
  if (others.some((one) => Math.abs(one.at - knot.at) < 0.005)) return;
  const knots = [...others, knot].sort((one, other) => one.at - other.at);
  chosen.value = knots.indexOf(knot);
  shot.tryOut({ pace: { curve: knots } });
}

function key(event: KeyboardEvent): void {
  const knot = chosen.value === undefined ? undefined : curve.value[chosen.value];
  if (!knot) return;
  const moves: Record<string, Partial<typeof knot>> = {
    ArrowUp: { speed: round(Math.min(most, knot.speed * 1.05)) },
    ArrowDown: { speed: round(Math.max(1 / most, knot.speed / 1.05)) },
    ArrowLeft: { at: round(Math.max(0, knot.at - 0.01)) },
    ArrowRight: { at: round(Math.min(1, knot.at + 0.01)) },
  };
  const move = moves[event.key];
  const away = event.key === "Delete" || event.key === "Backspace";
  if (!move && !away) return;
  event.preventDefault();
  event.stopPropagation();
  if (move) place({ ...knot, ...move }, chosen.value);
  else {
    const rest = curve.value.filter((_, one) => one !== chosen.value);
    chosen.value = undefined;
    void shot.decide({ pace: { curve: rest } });
  }
}
</script>

<template>
  <div class="speed">
    <div
      ref="surface"
      class="surface"
      tabindex="0"
      role="application"
      aria-label="Speed over the shot: click to put a point, arrow keys move it, Delete takes it away"
      v-on="drag.on"
      @keydown="key"
      @keyup="shot.settle()"
    >
      <svg :width="width" :height="height" aria-hidden="true">
        <g v-for="line in lines" :key="line">
          <line :class="{ one: line === 1 }" x1="0" :x2="width" :y1="top(line)" :y2="top(line)" />
          <text x="3" :y="top(line) - 2">{{ line >= 1 ? `${line} ×` : `1/${1 / line}` }}</text>
        </g>
        <line class="here" :x1="here * width" :x2="here * width" y1="0" :y2="height" />
        <path :d="path" />
        <rect
          v-for="(knot, index) in curve"
          :key="index"
          :class="{ chosen: chosen === index }"
          :x="left(knot.at) - 5"
          :y="top(knot.speed) - 5"
          width="10"
          height="10"
        />
      </svg>
    </div>
    <p class="ends quiet"><span>first still</span><span>last still</span></p>
    <p class="quiet words">{{ isWritten }}</p>
    <p class="acts">
      <button
        v-for="one in begun"
        :key="one.name"
        type="button"
        class="plain-button"
        @click="shot.decide({ pace: { curve: one.curve } })"
      >
        {{ one.name }}
      </button>
      <button v-if="curve.length" type="button" class="plain-button" @click="shot.decide({ pace: { curve: [] } })">
        constant speed again
      </button>
    </p>
    <label class="check">
      <input
        type="checkbox"
        :checked="pace.by_clock"
        @change="shot.decide({ pace: { by_clock: ($event.target as HTMLInputElement).checked } })"
      />
      by the clock: stills taken at uneven intervals play evenly
    </label>
  </div>
</template>

<style scoped>
.speed {
  display: grid;
  gap: 0.4rem;
}

.surface {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  cursor: crosshair;
  height: 150px;
  overflow: hidden;
  touch-action: none;
}

svg {
  display: block;
  pointer-events: none;
}

line {
  stroke: var(--hair);
}

line.one {
  stroke: var(--soft-ink);
  stroke-dasharray: 4 3;
}

line.here {
  stroke: var(--line);
  stroke-width: 1.5;
}

text {
  fill: var(--soft-ink);
  font-family: var(--mono);
  font-size: var(--type-mark);
}

path {
  fill: none;
  stroke: var(--line);
  stroke-width: 2;
}

rect {
  fill: var(--bright-paper);
  stroke: var(--line);
  stroke-width: 2;
}

rect.chosen {
  fill: var(--line);
}

.ends {
  display: flex;
  font-size: var(--type-small);
  justify-content: space-between;
}

.words {
  font-size: var(--type-near);
}

.check {
  align-items: start;
  display: flex;
  gap: 0.5rem;
}
</style>
