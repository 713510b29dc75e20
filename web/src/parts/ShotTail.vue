<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref, shallowRef, watch, watchEffect } from "vue";

import { addresses } from "../api/client";
import { useShot } from "../stores/shot";
import type { Step } from "../screens/steps";
import { brightnessPath, intervalPath } from "./plots";

const props = defineProps<{ step: Step }>();

const shot = useShot();
const body = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const rows = shallowRef<HTMLImageElement>();
const { width, height } = useElementSize(body);
const pictureWidth = computed(() => Math.max(40, width.value - plotWidth));
const plotWidth = 46;

const pointerY = computed(() => (shot.count ? ((shot.shown + 0.5) / shot.count) * height.value : 0));
const path = computed(() =>
  (props.step === "order" ? intervalPath : brightnessPath)(shot.stills.stills, plotWidth - 8, height.value),
);
const marks = computed(() => (props.step === "order" ? (shot.order?.breaks ?? []) : []));

watch(
  () => [shot.shot?.id, shot.tailVersion, shot.count] as const,
  async ([id, version, count]) => {
    if (!id || !count) {
      rows.value = undefined;
      return;
    }
    const image = new Image();
    image.src = addresses.tail(id, version);
    await image.decode();
    if (id === shot.shot?.id) rows.value = image;
  },
  { immediate: true },
);

watchEffect(() => {
  const surface = canvas.value;
  if (!surface || !height.value) return;
  const density = window.devicePixelRatio;
  surface.width = Math.round(pictureWidth.value * density);
  surface.height = Math.round(height.value * density);
  const context = surface.getContext("2d")!;
  if (rows.value) {
    context.imageSmoothingEnabled = rows.value.height > surface.height;
    context.imageSmoothingQuality = "high";
    context.drawImage(rows.value, 0, 0, surface.width, surface.height);
  }
});

function positionAt(event: PointerEvent): number {
  const box = body.value!.getBoundingClientRect();
  const share = (event.clientY - box.top) / box.height;
  return Math.max(0, Math.min(shot.count - 1, Math.floor(share * shot.count)));
}

let anchor: number | undefined;

function press(event: PointerEvent): void {
  if (event.button !== 0 || !shot.count) return;
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  anchor = event.shiftKey ? positionAt(event) : undefined;
  shot.stretch = undefined;
  shot.goTo(positionAt(event));
}

function move(event: PointerEvent): void {
  if (!shot.count) return;
  const position = positionAt(event);
  if (!(event.buttons & 1)) shot.peeked = position;
  else {
    if (anchor !== undefined) shot.choose(anchor, position);
    shot.goTo(position);
  }
}

/** Stills that follow each other and are set aside, as bands. */
const asideBands = computed(() => {
  const bands: { first: number; last: number }[] = [];
  for (const still of shot.aside.size ? shot.stills.stills : []) {
    if (!shot.aside.has(still.id)) continue;
    const before = bands.at(-1);
    if (before?.last === still.position - 1) before.last = still.position;
    else bands.push({ first: still.position, last: still.position });
  }
  return bands;
});

function band(first: number, last: number) {
  const row = height.value / shot.count;
  return { top: `${first * row}px`, height: `${Math.max(2, (last - first + 1) * row)}px` };
}

function wheel(event: WheelEvent): void {
  shot.goTo(shot.current + Math.sign(event.deltaY));
}
</script>

<template>
  <section class="tail" aria-label="Tail: the whole shot, first still at the top">
    <header aria-hidden="true"><span>top ← → bottom</span><span>{{ step === "order" ? "interval" : "bright" }}</span></header>
    <div
      ref="body"
      class="tail-body"
      role="slider"
      tabindex="0"
      aria-orientation="vertical"
      aria-label="Still shown"
      aria-valuemin="1"
      :aria-valuemax="shot.count"
      :aria-valuenow="shot.shown + 1"
      @pointerdown="press"
      @pointermove="move"
      @pointerleave="shot.peeked = undefined"
      @wheel.prevent="wheel"
    >
      <canvas ref="canvas" :style="{ width: `${pictureWidth}px` }"></canvas>
      <svg class="plot" :width="plotWidth" :height="height" aria-hidden="true">
        <path :d="path" />
      </svg>
      <span v-for="one in asideBands" :key="one.first" class="aside-band" :style="band(one.first, one.last)"></span>
      <span v-if="shot.stretch" class="stretch" :style="band(shot.stretch.first, shot.stretch.last)"></span>
      <span
        v-for="mark in marks"
        :key="`${mark.kind}${mark.position}`"
        class="mark"
        :title="mark.sentence"
        :style="{ top: `${(mark.position / shot.count) * height}px` }"
      ></span>
      <div v-if="shot.count" class="pointer" :class="{ above: pointerY > height / 2 }" :style="{ top: `${pointerY}px` }">
        <span class="number">{{ shot.shown + 1 }}</span>
      </div>
    </div>
    <footer class="number">
      <span>{{ shot.count ? "1" : "" }}</span
      ><span>{{ shot.count ? shot.count.toLocaleString("en") : "no stills yet" }}</span>
    </footer>
  </section>
</template>

<style scoped>
.tail {
  border-right: 1px solid var(--hair);
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) 34px;
  user-select: none;
}

header {
  color: var(--soft-ink);
  display: flex;
  font-size: 0.78rem;
  justify-content: space-between;
  padding: 0.35rem 0.5rem 0.25rem 0.6rem;
}

.tail-body {
  cursor: ns-resize;
  min-height: 0;
  position: relative;
  touch-action: none;
}

canvas {
  height: 100%;
  left: 0;
  position: absolute;
  top: 0;
}

.plot {
  position: absolute;
  right: 0;
  top: 0;
}

.plot path {
  fill: none;
  stroke: var(--soft-ink);
  stroke-width: 1.2;
}

.aside-band {
  background: repeating-linear-gradient(45deg, rgb(244 242 238 / 0.85) 0 3px, rgb(93 89 82 / 0.55) 3px 4px);
  left: 0;
  pointer-events: none;
  position: absolute;
  right: 46px;
}

.stretch {
  background: rgb(31 95 122 / 0.16);
  border-bottom: 2px solid var(--line);
  border-top: 2px solid var(--line);
  left: 0;
  pointer-events: none;
  position: absolute;
  right: 0;
}

.mark {
  border-bottom: 5px solid transparent;
  border-left: 9px solid var(--saffron);
  border-top: 5px solid transparent;
  left: 0;
  margin-top: -5px;
  position: absolute;
}

.pointer {
  border-top: 2px solid var(--line);
  left: 0;
  margin-top: -1px;
  pointer-events: none;
  position: absolute;
  right: 0;
}

.pointer span {
  background: var(--line);
  border-radius: 0 0 0 3px;
  color: #fff;
  font-size: 0.78rem;
  line-height: 1.3;
  padding: 0 0.35rem;
  position: absolute;
  right: 0;
  top: 0;
}

.pointer.above span {
  border-radius: 3px 0 0;
  bottom: 0;
  top: auto;
}

footer {
  align-items: center;
  border-top: 1px solid var(--hair);
  color: var(--soft-ink);
  display: flex;
  font-size: 0.8rem;
  justify-content: space-between;
  padding: 0 0.6rem;
}
</style>
