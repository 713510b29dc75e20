<script setup lang="ts">
import { useShot } from "../stores/shot";
import type { Column } from "./stepTail";

/** What runs beside the pictures of the stills: lines, findings, seconds of the clip. */
defineProps<{ columns: Column[]; width: number; height: number }>();

const shot = useShot();
</script>

<template>
  <svg
    v-for="(column, index) in columns"
    :key="index"
    class="plot"
    :style="{ right: `${(columns.length - 1 - index) * width}px` }"
    :width="width"
    :height="height"
    aria-hidden="true"
  >
    <rect
      v-for="one in column.found"
      :key="one.key"
      class="found"
      :class="{ settled: one.settled }"
      x="1"
      :y="(one.first / shot.count) * height - 1"
      :width="width - 2"
      :height="Math.max(4, ((one.last - one.first + 1) / shot.count) * height + 2)"
    >
      <title>{{ one.sentence }}</title>
    </rect>
    <path v-for="(line, number) in column.lines" :key="number" :class="{ planned: line.isPlanned }" :d="line.path" />
    <g
      v-for="one in column.seconds?.bands"
      :key="one.second"
      :class="{ now: one.second === column.seconds!.now(), odd: one.second % 2 }"
    >
      <rect :x="one.left" :y="one.top" :width="one.width" :height="one.height" />
      <text v-if="one.height > 12" :x="one.left + 3" :y="one.top + 10">{{ one.second + 1 }}</text>
    </g>
  </svg>
</template>

<style scoped>
.plot {
  border-left: 1px solid var(--hair);
  position: absolute;
  right: 0;
  top: 0;
}

.plot path {
  fill: none;
  stroke: var(--soft-ink);
  stroke-width: 1.2;
}

.plot .planned {
  stroke: var(--line);
  stroke-width: 1.8;
}

.plot rect {
  fill: var(--line-pale);
}

.plot .found {
  fill: var(--saffron);
  fill-opacity: 0.45;
}

.plot .settled {
  fill: var(--moss);
  fill-opacity: 0.2;
}

.plot .odd rect {
  fill: var(--hair);
}

.plot .now rect {
  fill: var(--line);
}

.plot text {
  fill: var(--soft-ink);
  font-family: var(--mono);
  font-size: var(--type-mark);
}

.plot .now text {
  fill: var(--on-line);
}
</style>
