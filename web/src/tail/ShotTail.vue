<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref, shallowRef, watch, watchEffect } from "vue";

import { addresses } from "../api/client";
import { placeIn, useDrag, type Place } from "../parts/drag";
import { useClip } from "../playback/clip";
import { useShot } from "../stores/shot";
import type { StepTail } from "./stepTail";
import TailBands from "./TailBands.vue";
import TailPlots from "./TailPlots.vue";

const props = defineProps<{ own: StepTail }>();

const shot = useShot();
const clip = useClip();
const body = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const rows = shallowRef<HTMLImageElement>();
const { width, height } = useElementSize(body);
const plotWidth = 46;
/** Lines keep off the edges of their column. */
const lineWidth = plotWidth - 8;
const columns = computed(() => props.own.columns(shot.stills.stills, lineWidth, height.value));
const pictureWidth = computed(() => Math.max(40, width.value - plotWidth * columns.value.length));
const pointerY = computed(() => (shot.count ? ((shot.shown + 0.5) / shot.count) * height.value : 0));

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

function positionAt({ y }: Place): number {
  return Math.max(0, Math.min(shot.count - 1, Math.floor(y * shot.count)));
}

/** Dragging goes through the shot; with Shift it chooses a stretch from where it began. */
const drag = useDrag<{ anchor: number | undefined }>(body, {
  take(at, event) {
    if (!shot.count) return undefined;
    const position = positionAt(at);
    shot.stretch = undefined;
    shot.goTo(position);
    return { anchor: event.shiftKey ? position : undefined };
  },
  pull({ anchor }, at) {
    const position = positionAt(at);
    if (anchor !== undefined) shot.choose(anchor, position);
    shot.goTo(position);
  },
});

function peek(event: PointerEvent): void {
  if (shot.count && !event.buttons) shot.peeked = positionAt(placeIn(body.value!, event));
}

function wheel(event: WheelEvent): void {
  shot.goTo(shot.current + Math.sign(event.deltaY));
}
</script>

<template>
  <section class="tail" aria-label="Tail: the whole shot, first still at the top">
    <header :aria-hidden="own.head ? undefined : true">
      <component :is="own.head" v-if="own.head" />
      <template v-else>
        <span>top ← → bottom</span
        ><span v-for="one in columns" :key="one.words" :title="one.title">{{ one.words }}</span>
      </template>
    </header>
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
      v-on="drag.on"
      @pointermove="peek"
      @pointerleave="shot.peeked = undefined"
      @wheel.prevent="wheel"
    >
      <canvas ref="canvas" :style="{ width: `${pictureWidth}px` }"></canvas>
      <TailPlots :columns="columns" :width="plotWidth" :height="height" />
      <TailBands :own="own" :height="height" :beside-pictures="plotWidth * columns.length" />
      <div
        v-if="shot.count"
        class="pointer"
        :class="{ above: pointerY > height / 2 }"
        :style="{ top: `${pointerY}px` }"
      >
        <span class="number"
          >{{ shot.shown + 1 }}<template v-if="own.hasTimecode && clip.timecode"> · {{ clip.timecode }}</template></span
        >
      </div>
    </div>
    <footer class="number">
      <component :is="own.foot" v-if="own.foot" />
      <template v-else>
        <span>{{ shot.count ? "1" : "" }}</span><span>{{
          shot.count ? shot.count.toLocaleString("en") : "no stills yet"
        }}</span>
      </template>
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
  font-size: var(--type-tiny);
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
  color: var(--on-line);
  font-size: var(--type-tiny);
  line-height: 1.3;
  padding: 0 0.35rem;
  position: absolute;
  right: 0;
  top: 0;
}

.pointer.above span {
  border-radius: var(--round) 0 0;
  bottom: 0;
  top: auto;
}

footer {
  align-items: center;
  border-top: 1px solid var(--hair);
  color: var(--soft-ink);
  display: flex;
  font-size: var(--type-tiny);
  justify-content: space-between;
  padding: 0 0.6rem;
}
</style>
