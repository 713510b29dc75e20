<script setup lang="ts">
import { computed } from "vue";

import type { Planned } from "../../api/client";

/** The light over a planned shoot: how it falls and rises in stops, over the sun's way across the horizon. */
const props = defineProps<{ course: Planned["course"] }>();

const WIDTH = 560;
const HEIGHT = 150;
const LEFT = 46;
const x = (at: number) => LEFT + at * (WIDTH - LEFT - 8);
const low = computed(() => Math.min(...props.course.map((one) => one.stops), -0.5));
const high = computed(() => Math.max(...props.course.map((one) => one.stops), 0.5));
const y = (stops: number) => 12 + ((high.value - stops) / (high.value - low.value)) * (HEIGHT - 40);
const line = computed(() => props.course.map((one) => `${x(one.at).toFixed(1)},${y(one.stops).toFixed(1)}`).join(" "));
const step = computed(() => [1, 2, 3, 5, 10].find((one) => (high.value - low.value) / one <= 5) ?? 10);
const rungs = computed(() => {
  const first = Math.ceil(low.value / step.value);
  return Array.from(
    { length: Math.floor(high.value / step.value) - first + 1 },
    (_, index) => (first + index) * step.value,
  );
});
/** Stretches in which the sun is up, in twilight, or away, as the ground the curve lies on. */
const grounds = computed(() => {
  const kind = (height: number) => (height >= -0.83 ? "day" : height >= -6 ? "twilight" : "night");
  const found: { kind: string; from: number; to: number }[] = [];
  for (const one of props.course) {
    const last = found.at(-1);
    if (last && last.kind === kind(one.height_deg)) last.to = one.at;
    else found.push({ kind: kind(one.height_deg), from: last ? last.to : one.at, to: one.at });
  }
  return found.filter((one) => one.to > one.from);
});
const clocks = computed(() =>
  [0, 0.25, 0.5, 0.75, 1].map((at) => props.course[Math.round(at * (props.course.length - 1))]!),
);
</script>

<template>
  <svg
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    class="light-picture"
    role="img"
    :aria-label="`The light over the shoot, from ${low.toFixed(1)} to ${high.toFixed(1)} stops`"
  >
    <g v-for="ground in grounds" :key="ground.from">
      <rect
        :class="ground.kind"
        :x="x(ground.from)"
        y="12"
        :width="x(ground.to) - x(ground.from)"
        :height="HEIGHT - 40"
      />
      <text
        v-if="ground.to - ground.from > 0.12"
        class="ground"
        :class="ground.kind"
        :x="x(ground.from) + 5"
        :y="HEIGHT - 34"
      >
        {{ ground.kind }}
      </text>
    </g>
    <g v-for="rung in rungs" :key="rung">
      <line class="rung" :x1="LEFT" :x2="WIDTH - 8" :y1="y(rung)" :y2="y(rung)" />
      <text class="said" :x="LEFT - 6" :y="y(rung) + 4" text-anchor="end">{{ rung > 0 ? "+" : "" }}{{ rung }}</text>
    </g>
    <polyline class="light" :points="line" />
    <text
      v-for="(one, index) in clocks"
      :key="index"
      class="said"
      :x="x(one.at)"
      :y="HEIGHT - 8"
      :text-anchor="index === 0 ? 'start' : index === clocks.length - 1 ? 'end' : 'middle'"
    >
      {{ one.clock }}
    </text>
  </svg>
</template>

<style scoped>
.light-picture {
  display: block;
  max-width: 560px;
  width: 100%;
}

.said {
  fill: var(--soft-ink);
  font-family: var(--mono);
  font-size: var(--type-tiny);
}

.ground {
  font-family: var(--text);
  font-size: var(--type-tiny);
  fill: var(--soft-ink);
}

.ground.night {
  fill: var(--bright-paper);
}

rect.day {
  fill: var(--bright-paper);
}

rect.twilight {
  fill: var(--day);
}

rect.night {
  fill: var(--night);
}

.rung {
  stroke: var(--hair);
}

.light {
  fill: none;
  stroke: var(--kite);
  stroke-width: 2;
}
</style>
