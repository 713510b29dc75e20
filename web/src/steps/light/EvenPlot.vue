<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { useDrag, type Place } from "../../parts/drag";
import { asShare } from "../../parts/shares";
import { useShot } from "../../stores/shot";
import { endsOf, lineOf, within, type Ends } from "./course";
import { useLight } from "./light";

/** The light of each still, as it is and as it will be; the course that is drawn is drawn in here. */
defineProps<{ wished: boolean }>();
/** The still whose point is worked on. */
const chosen = defineModel<number>();
const emit = defineEmits<{ forget: [] }>();

const shot = useShot();
const light = useLight();
const plot = ref<HTMLElement>();
const { width, height } = useElementSize(plot);
const even = computed(() => light.light.even);
const isDrawn = computed(() => even.value.course === "drawn");
const course = computed(() => light.course);
/** What is drawn keeps its scale while it is dragged. */
const heldEnds = ref<Ends>();
const points = computed(() =>
  even.value.drawn.keyframes.flatMap((one) => {
    const position = shot.positions.get(one.still);
    return position === undefined ? [] : [{ ...one, position }];
  }),
);
const ends = computed(() => {
  if (heldEnds.value) return heldEnds.value;
  const every = [
    ...(course.value?.measured ?? []),
    ...(course.value?.planned ?? []),
    ...(isDrawn.value ? points.value.map((one) => one.value) : []),
  ];
  return endsOf(every, 0.1, 0.1);
});
const here = computed(() => ((shot.shown + 0.5) / Math.max(1, shot.count)) * width.value);

const line = (values: readonly number[] = []) => lineOf(values, ends.value, width.value, height.value);

function placeOf({ x, y }: Place): { position: number; value: number } {
  const { least, most } = ends.value;
  const value = most - y * (most - least);
  return { position: Math.min(shot.count - 1, Math.floor(asShare(x) * shot.count)), value: within(value) };
}

function take(at: Place): number | undefined {
  const { position } = placeOf(at);
  if (!isDrawn.value) {
    shot.goTo(position);
    return undefined;
  }
  heldEnds.value = { ...ends.value };
  const reach = Math.max(1, (10 / Math.max(1, width.value)) * shot.count);
  const near = points.value
    .filter((one) => Math.abs(one.position - position) <= reach)
    .sort((one, other) => Math.abs(one.position - position) - Math.abs(other.position - position))[0];
  const still = near?.still ?? shot.stills.stills[position]!.id;
  chosen.value = still;
  put(still, near?.value ?? placeOf(at).value);
  return still;
}

const drag = useDrag<number>(plot, {
  take,
  pull: (still, at) => put(still, placeOf(at).value),
  keep() {
    heldEnds.value = undefined;
    void shot.settle();
  },
  drop() {
    heldEnds.value = undefined;
    shot.drop();
  },
});

function put(still: number, value: number): void {
  const { drawn } = even.value;
  const others = drawn.keyframes.filter((one) => one.still !== still);
  light.attempt("even.drawn", { ...drawn, keyframes: [...others, { still, value }] }, "");
}

function key(event: KeyboardEvent): void {
  if (!isDrawn.value) return;
  const sorted = [...points.value].sort((one, other) => one.position - other.position);
  const place = sorted.findIndex((one) => one.still === chosen.value);
  const by = { ArrowUp: 0.05, ArrowDown: -0.05 }[event.key];
  const to = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (event.key === "Delete" && place >= 0) emit("forget");
  else if (to !== undefined && sorted.length)
    chosen.value = sorted[Math.max(0, Math.min(sorted.length - 1, place + to))]!.still;
  else if (by !== undefined && place >= 0)
    put(chosen.value!, within(sorted[place]!.value + by * (event.shiftKey ? 4 : 1)));
  else return;
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <div
    ref="plot"
    class="plot"
    :class="{ drawn: isDrawn }"
    :tabindex="isDrawn ? 0 : undefined"
    :role="isDrawn ? 'application' : undefined"
    :aria-label="
      isDrawn
        ? 'The course of light as it is drawn: press to put a point, drag it; arrow keys choose and move, Delete forgets it'
        : undefined
    "
    v-on="drag.on"
    @keydown="key"
    @keyup="shot.settle()"
  >
    <svg
      v-if="course?.measured.length"
      :width="width"
      :height="height"
      role="img"
      aria-label="The light of each still, as it is and as it will be"
    >
      <line
        v-for="one in course.steps"
        :key="one.position"
        class="step"
        :x1="(one.position / shot.count) * width"
        :x2="(one.position / shot.count) * width"
        y1="0"
        :y2="height"
      />
      <line class="here" :x1="here" :x2="here" y1="0" :y2="height" />
      <path class="measured" :class="{ alone: !wished }" :d="line(course.measured)" />
      <path v-if="wished" class="planned" :d="line(course.planned)" />
      <template v-if="isDrawn">
        <circle
          v-for="one in points"
          :key="one.still"
          :class="{ chosen: one.still === chosen }"
          :cx="((one.position + 0.5) / shot.count) * width"
          :cy="(1 - (one.value - ends.least) / (ends.most - ends.least)) * height"
          r="5"
        />
      </template>
    </svg>
  </div>
</template>

<style scoped>
.plot.drawn {
  cursor: crosshair;
  height: 130px;
  touch-action: none;
}

circle {
  fill: var(--bright-paper);
  stroke: var(--kite);
  stroke-width: 2;
}

circle.chosen {
  fill: var(--kite);
}

.plot {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  cursor: pointer;
  height: 84px;
  overflow: hidden;
}

svg {
  display: block;
}

path {
  fill: none;
}

.measured {
  stroke: var(--soft-ink);
  stroke-width: 1;
}

.measured.alone {
  stroke-width: 1.5;
}

.planned {
  stroke: var(--line);
  stroke-width: 2;
}

.here {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}

.step {
  stroke: var(--hair);
  stroke-width: 2;
}
</style>
