<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import { useDrag, type Place } from "../../parts/drag";
import { asShare } from "../../parts/shares";

import { useShot } from "../../stores/shot";
import NumberField from "../../parts/NumberField.vue";
import { useFrames } from "../../stage/frames";
import { endsOf, lineOf, type Ends } from "./course";
import CourseChoice from "./CourseChoice.vue";
import { useLight } from "./light";
import type { Light } from "./settings";

const shot = useShot();
const light = useLight();
const plot = ref<HTMLElement>();
const { width, height } = useElementSize(plot);
const even = computed(() => light.light.even);
const frames = useFrames();
const isDrawn = computed(() => even.value.course === "drawn");
const wished = computed(
  () =>
    even.value.flicker ||
    even.value.steps ||
    even.value.switched ||
    even.value.colour ||
    even.value.bands ||
    isDrawn.value,
);
const course = computed(() => light.course);
/** What is drawn keeps its scale while it is dragged. */
const heldEnds = ref<Ends>();
const points = computed(() =>
  even.value.drawn.keyframes.flatMap((one) => {
    const position = shot.positions.get(one.still);
    return position === undefined ? [] : [{ ...one, position }];
  }),
);
const chosen = ref<number>();
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
const gain = computed(() => course.value?.gains[shot.shown] ?? 0);

function decide(change: Partial<Light["even"]>): void {
  void shot.decide({ light: { even: { ...even.value, ...change } } });
}

const line = (values: readonly number[] = []) => lineOf(values, ends.value, width.value, height.value);

function placeOf({ x, y }: Place): { position: number; value: number } {
  const { least, most } = ends.value;
  const value = most - y * (most - least);
  return { position: Math.min(shot.count - 1, Math.floor(asShare(x) * shot.count)), value: within(value) };
}

function within(value: number): number {
  return Math.round(Math.max(-20, Math.min(5, value)) * 100) / 100;
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
  chosen.value = near?.still ?? shot.stills.stills[position]!.id;
  put(chosen.value, near?.value ?? placeOf(at).value);
  return chosen.value;
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
  if (event.key === "Delete" && place >= 0) forget();
  else if (to !== undefined && sorted.length)
    chosen.value = sorted[Math.max(0, Math.min(sorted.length - 1, place + to))]!.still;
  else if (by !== undefined && place >= 0)
    put(chosen.value!, within(sorted[place]!.value + by * (event.shiftKey ? 4 : 1)));
  else return;
  event.preventDefault();
  event.stopPropagation();
}

function forget(): void {
  const { drawn } = even.value;
  void light.set(
    "even.drawn",
    { ...drawn, keyframes: drawn.keyframes.filter((one) => one.still !== chosen.value) },
    "",
  );
  chosen.value = undefined;
}

/** Begin to draw from what is planned now, at both ends, so that nothing jumps. */
function draw(): void {
  const planned = course.value?.planned ?? [];
  const stills = shot.stills.stills;
  const begun = [0, stills.length - 1].map((place) => ({
    still: stills[place]!.id,
    value: within(planned[place] ?? 0),
  }));
  const keyframes = even.value.drawn.keyframes.length ? even.value.drawn.keyframes : begun;
  decide({ course: "drawn", drawn: { value: 0, keyframes } });
}

function judgeBy(): void {
  frames.show("frame");
  frames.drawing = frames.drawing === "region" ? undefined : "region";
}
</script>

<template>
  <section>
    <h2>Even light</h2>
    <label
      class="check"
      title="Lamps, shutters and apertures that are never quite the same: each still is brought onto the smooth course of the light around it."
    >
      <input type="checkbox" :checked="even.flicker" @change="decide({ flicker: !even.flicker })" />
      even out flicker
    </label>
    <label class="check" title="Where the camera changed its exposure for good, as when night falls.">
      <input type="checkbox" :checked="even.steps" @change="decide({ steps: !even.steps })" />
      take out changes of exposure
    </label>
    <label
      class="check"
      title="Lamps that come on or go off, and sun that comes out for good: the camera did not change."
    >
      <input type="checkbox" :checked="even.switched" @change="decide({ switched: !even.switched })" />
      take out lamps that are switched
    </label>
    <label
      class="check"
      title="Lamps and automatic white balance: red and blue of each still are brought onto their smooth course as well."
    >
      <input type="checkbox" :checked="even.colour" @change="decide({ colour: !even.colour })" />
      even out colour
    </label>
    <label class="check" title="Lamps and rolling shutters: bands that lie elsewhere in each still.">
      <input
        type="checkbox"
        :checked="even.bands"
        :disabled="even.region !== null && !even.bands"
        @change="decide({ bands: !even.bands })"
      />
      take out bands
    </label>
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
    <p v-if="course && !course.measured.length" class="quiet">
      These stills were gathered before light was measured. Look for changed files in gather, then come back.
    </p>
    <template v-if="wished">
      <p class="words" role="status">{{ course?.sentence }}</p>
      <p class="quiet words">This still: {{ gain >= 0 ? "+" : "−" }}{{ Math.abs(gain).toFixed(2) }} stops.</p>
      <div v-if="even.flicker" class="smooth">
        <label class="check"
          ><input type="checkbox" :checked="even.smooth === 0" @change="decide({ smooth: even.smooth ? 0 : 50 })" />
          find out by itself what is smooth</label
        >
        <NumberField
          v-if="even.smooth"
          label="ups and downs that may stay, in stills"
          :value="even.smooth"
          :min="4"
          :max="3000"
          @change="decide({ smooth: $event })"
        />
      </div>
      <p class="acts">
        <button type="button" class="plain-button" :aria-pressed="frames.drawing === 'region'" @click="judgeBy">
          {{
            frames.drawing === "region"
              ? "drag over it in the picture"
              : even.region
                ? "judged by another part …"
                : "judge by a part of the picture …"
          }}
        </button>
        <button v-if="even.region" type="button" class="plain-button" @click="decide({ region: null })">
          by all of it
        </button>
      </p>
      <CourseChoice :even="even" :course="course" @choose="decide({ course: $event })" @draw="draw" />
      <p v-if="isDrawn && chosen !== undefined" class="acts">
        <button type="button" class="plain-button" @click="forget">forget this point</button>
      </p>
    </template>
  </section>
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

.smooth {
  display: grid;
  gap: 0.35rem;
}
</style>
