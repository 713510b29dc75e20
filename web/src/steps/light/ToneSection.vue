<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { useShot } from "../../stores/shot";
import SettingField from "./SettingField.vue";
import { useLight } from "./light";

const shot = useShot();
const light = useLight();
const surface = ref<HTMLElement>();
const { width, height } = useElementSize(surface);
const chosen = ref<Pulled>();
const dragged = ref<{ name: Pulled; from: number; value: number }>();

type Pulled = (typeof pulls)[number]["name"];
const pulls = [
  { name: "dark", at: 0.25, words: "the dark parts" },
  { name: "middle", at: 0.5, words: "the middle" },
  { name: "bright", at: 0.75, words: "the bright parts" },
] as const;
const curve = computed(() => light.tone?.curve ?? []);
const spread = computed(() => {
  const counts = light.tone?.spread ?? [];
  const points = counts.map((count, index) => `${(((index + 0.5) / counts.length) * width.value).toFixed(1)} ${((1 - Math.sqrt(count) * 0.85) * height.value).toFixed(1)}`);
  return points.length ? `M0 ${height.value}L${points.join("L")}L${width.value} ${height.value}Z` : "";
});
const path = computed(() => curve.value.map((code, index) => `${index ? "L" : "M"}${((index / (curve.value.length - 1)) * width.value).toFixed(1)} ${((1 - code) * height.value).toFixed(1)}`).join(""));

function top(at: number): number {
  const code = curve.value[Math.round(at * (curve.value.length - 1))] ?? at;
  return (1 - code) * height.value;
}

function press(event: PointerEvent): void {
  if (event.button !== 0) return;
  const area = surface.value!.getBoundingClientRect();
  const at = (event.clientX - area.left) / area.width;
  const { name } = pulls.reduce((one, other) => (Math.abs(other.at - at) < Math.abs(one.at - at) ? other : one));
  surface.value!.setPointerCapture(event.pointerId);
  chosen.value = name;
  dragged.value = { name, from: event.clientY, value: light.valueOf(name) };
}

function drag(event: PointerEvent): void {
  if (!dragged.value || !(event.buttons & 1)) return;
  const { name, from, value } = dragged.value;
  light.tryValues({ [name]: within(value + ((from - event.clientY) / height.value) * 5) });
}

function release(): void {
  if (dragged.value) void shot.settle();
  dragged.value = undefined;
}

function key(event: KeyboardEvent): void {
  const places = pulls.map((one) => one.name);
  const name = chosen.value ?? "middle";
  const by = { ArrowUp: 0.02, ArrowDown: -0.02 }[event.key];
  const to = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (by === undefined && to === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  if (to !== undefined) chosen.value = places[Math.max(0, Math.min(2, places.indexOf(name) + to))];
  else light.tryValues({ [name]: within(light.valueOf(name) + by! * (event.shiftKey ? 5 : 1)) });
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
      aria-label="How bright becomes how bright: drag the dark, middle or bright parts up and down; arrow keys choose and move"
      @pointerdown="press"
      @pointermove="drag"
      @pointerup="release"
      @pointercancel="release"
      @keydown="key"
      @keyup="shot.settle()"
    >
      <svg :width="width" :height="height" aria-hidden="true">
        <path class="spread" :d="spread" />
        <line class="as-is" x1="0" :y1="height" :x2="width" y2="0" />
        <path class="curve" :d="path" />
        <circle v-for="one in pulls" :key="one.name" :class="{ chosen: chosen === one.name }" :cx="one.at * width" :cy="top(one.at)" r="6" />
      </svg>
    </div>
    <p class="ends quiet"><span>dark</span><span>the light of all stills</span><span>bright</span></p>
    <p class="quiet words">{{ chosen ? `${pulls.find((one) => one.name === chosen)!.words}: ${light.valueOf(chosen) > 0 ? "+" : ""}${light.valueOf(chosen).toFixed(2)}` : "Pull the curve up or down where the picture should change." }}</p>
    <SettingField name="exposure" label="exposure" :min="-5" :max="5" :step="0.1" :places="2" unit=" stops" />
    <SettingField name="soften" label="soften the brightest parts" :min="0" :max="1" :step="0.05" :places="2" />
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

circle.chosen {
  fill: var(--line);
}

.ends {
  display: flex;
  font-size: 0.85rem;
  justify-content: space-between;
}

.words {
  font-size: 0.92rem;
}
</style>
