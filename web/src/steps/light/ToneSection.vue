<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { useDrag, type Place } from "../../parts/drag";
import { useShot } from "../../stores/shot";
import ClippingNote from "./ClippingNote.vue";
import { useLight } from "./light";
import SettingField from "./SettingField.vue";
import { plain } from "./settings";

interface Pull {
  path: string;
  at: number;
  words: string;
}

const shot = useShot();
const light = useLight();
const surface = ref<HTMLElement>();
const { width, height } = useElementSize(surface);
const chosen = ref("middle");
const near = 0.07;
const mostPulls = 8;

const pulls = computed<Pull[]>(() => [
  { path: "dark", at: 0.25, words: "the dark parts" },
  { path: "middle", at: 0.5, words: "the middle" },
  { path: "bright", at: 0.75, words: "the bright parts" },
  ...light.grade.pulls.map((one, place) => ({
    path: `pulls.${place}.by`,
    at: one.at,
    words: `what is ${Math.round(one.at * 100)} % bright`,
  })),
]);
const inOrder = computed(() => [...pulls.value].sort((one, other) => one.at - other.at));
const pulled = computed(() => pulls.value.find((one) => one.path === chosen.value));
const isFree = computed(() => chosen.value.startsWith("pulls."));
const curve = computed(() => light.tone?.curve ?? []);
const spread = computed(() => {
  const counts = light.tone?.spread ?? [];
  const points = counts.map(
    (count, index) =>
      `${(((index + 0.5) / counts.length) * width.value).toFixed(1)} ${((1 - Math.sqrt(count) * 0.85) * height.value).toFixed(1)}`,
  );
  return points.length ? `M0 ${height.value}L${points.join("L")}L${width.value} ${height.value}Z` : "";
});
const path = computed(() =>
  curve.value
    .map(
      (code, index) =>
        `${index ? "L" : "M"}${((index / (curve.value.length - 1)) * width.value).toFixed(1)} ${((1 - code) * height.value).toFixed(1)}`,
    )
    .join(""),
);
const ends = computed(() => ({
  black: Math.max(0, light.valueOf("black")),
  white: 1 - Math.max(0, light.valueOf("white")),
}));
const words = computed(() => {
  const value = light.valueOf(chosen.value);
  return pulled.value ? `${pulled.value.words}: ${value > 0 ? "+" : ""}${value.toFixed(2)}` : "";
});

function top(at: number): number {
  const place = at * (curve.value.length - 1);
  const [low, high] = [curve.value[Math.floor(place)] ?? at, curve.value[Math.ceil(place)] ?? at];
  return (1 - (low + (high - low) * (place % 1))) * height.value;
}

function take(place: Place): { path: string; value: number } {
  const at = Math.max(0.02, Math.min(0.98, place.x));
  const nearest = pulls.value.reduce((one, other) => (Math.abs(other.at - at) < Math.abs(one.at - at) ? other : one));
  const path = Math.abs(nearest.at - at) <= near || light.grade.pulls.length >= mostPulls ? nearest.path : added(at);
  chosen.value = path;
  return { path, value: light.valueOf(path) };
}

const { on: drag } = useDrag<{ path: string; value: number }>(surface, {
  take,
  pull: ({ path, value }, _, by) => light.tryValues({ [path]: within(value - by.y * 5) }),
  keep: () => shot.settle(),
  drop: () => shot.drop(),
});

/** Put a place that can be pulled where there is none near. */
function added(at: number): string {
  const { pulls } = light.grade;
  light.attempt("pulls", [...pulls, { at: Math.round(at * 1000) / 1000, by: plain() }]);
  return `pulls.${pulls.length}.by`;
}

function key(event: KeyboardEvent): void {
  const by = { ArrowUp: 0.02, ArrowDown: -0.02 }[event.key];
  const to = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (event.key === "Delete" && isFree.value) void forget();
  else if (to !== undefined) {
    const place = inOrder.value.findIndex((one) => one.path === chosen.value);
    chosen.value = inOrder.value[Math.max(0, Math.min(inOrder.value.length - 1, place + to))]!.path;
  } else if (by !== undefined)
    light.tryValues({ [chosen.value]: within(light.valueOf(chosen.value) + by * (event.shiftKey ? 5 : 1)) });
  else return;
  event.preventDefault();
  event.stopPropagation();
}

function forget(): Promise<void> {
  const place = Number(chosen.value.split(".")[1]);
  chosen.value = "middle";
  return light.set(
    "pulls",
    light.grade.pulls.filter((_, index) => index !== place),
  );
}

function within(value: number): number {
  return Math.round(Math.max(-1, Math.min(1, value)) * 100) / 100;
}
</script>

<template>
  <section>
    <h2>Brightness</h2>
    <div
      ref="surface"
      class="surface"
      tabindex="0"
      role="application"
      aria-label="How bright becomes how bright: pull the curve up and down anywhere; arrow keys choose and move, Delete forgets a place"
      v-on="drag"
      @keydown="key"
      @keyup="shot.settle()"
    >
      <svg :width="width" :height="height" aria-hidden="true">
        <path class="spread" :d="spread" />
        <line class="as-is" x1="0" :y1="height" :x2="width" y2="0" />
        <line v-if="ends.black > 0" class="end" :x1="ends.black * width" :x2="ends.black * width" y1="0" :y2="height" />
        <line v-if="ends.white < 1" class="end" :x1="ends.white * width" :x2="ends.white * width" y1="0" :y2="height" />
        <path class="curve" :d="path" />
        <circle
          v-for="one in pulls"
          :key="one.path"
          :class="{ chosen: chosen === one.path, free: one.path.includes('.') }"
          :cx="one.at * width"
          :cy="top(one.at)"
          :r="one.path.includes('.') ? 4.5 : 6"
        />
      </svg>
    </div>
    <p class="ends quiet"><span>dark</span><span>the light of all stills</span><span>bright</span></p>
    <p class="quiet words">
      {{ words }}
      <button v-if="isFree" type="button" class="plain-button" @click="forget">forget this place</button>
    </p>
    <ClippingNote v-if="light.clipping && !light.worked" :clipping="light.clipping" />
    <SettingField name="exposure" label="exposure" :min="-5" :max="5" :step="0.1" :places="2" unit=" stops" />
    <SettingField name="contrast" label="contrast" :min="-1" :max="1" :step="0.05" :places="2" />
    <SettingField name="black" label="black point" :min="-0.25" :max="0.25" :step="0.01" :places="2" />
    <SettingField name="white" label="white point" :min="-0.5" :max="0.5" :step="0.01" :places="2" />
    <SettingField name="soften" label="soften the brightest" :min="0" :max="1" :step="0.05" :places="2" />
    <SettingField
      v-if="!light.worked"
      name="vignette"
      label="brighten the corners"
      :min="-2"
      :max="2"
      :step="0.1"
      :places="2"
      unit=" stops"
      whole
    />
  </section>
</template>

<style scoped>
.surface {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  cursor: ns-resize;
  height: 170px;
  overflow: hidden;
  touch-action: none;
}

svg {
  display: block;
  pointer-events: none;
}

.spread {
  fill: var(--hair);
}

.as-is {
  stroke: var(--soft-ink);
  stroke-dasharray: 2 4;
}

.end {
  stroke: var(--kite);
  stroke-dasharray: 4 3;
}

.curve {
  fill: none;
  stroke: var(--line);
  stroke-width: 2;
}

circle {
  fill: var(--bright-paper);
  stroke: var(--line);
  stroke-width: 2;
}

circle.free {
  stroke-width: 1.5;
}

circle.chosen {
  fill: var(--line);
}

.ends {
  display: flex;
  font-size: var(--type-small);
  justify-content: space-between;
}
</style>
