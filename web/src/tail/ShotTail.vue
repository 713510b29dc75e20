<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref, shallowRef, watch, watchEffect } from "vue";
import { placeIn, useDrag, type Place } from "../parts/drag";

import { addresses } from "../api/client";
import { useClip } from "../playback/clip";
import { useShot } from "../stores/shot";
import { stretchesOf } from "./plots";
import type { StepTail } from "./stepTail";

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
const marks = computed(() => props.own.marks?.() ?? []);
const keyframes = computed(() => props.own.keyframes?.() ?? []);
const hidden = computed(() => props.own.hidden?.() ?? []);

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

/** Stills that follow each other and are not in the clip, as bands. */
const asideBands = computed(() =>
  stretchesOf(
    (shot.out.size ? shot.stills.stills : []).flatMap((still) => (shot.out.has(still.id) ? [still.position] : [])),
  ),
);

/** What lies outside of the stretch that is used. */
const unused = computed(() => {
  const { first, last } = shot.usedStretch;
  return [
    ...(first > 0 ? [{ first: 0, last: first - 1 }] : []),
    ...(last < shot.count - 1 ? [{ first: last + 1, last: shot.count - 1 }] : []),
  ];
});
const mendedPlaces = computed(() =>
  shot.mended.size ? shot.stills.stills.filter((still) => shot.mended.has(still.id)) : [],
);

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
      <svg
        v-for="(column, index) in columns"
        :key="index"
        class="plot"
        :style="{ right: `${(columns.length - 1 - index) * plotWidth}px` }"
        :width="plotWidth"
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
          :width="plotWidth - 2"
          :height="Math.max(4, ((one.last - one.first + 1) / shot.count) * height + 2)"
        >
          <title>{{ one.sentence }}</title>
        </rect>
        <path
          v-for="(line, number) in column.lines"
          :key="number"
          :class="{ planned: line.isPlanned }"
          :d="line.path"
        />
        <g
          v-for="one in column.seconds?.bands"
          :key="one.second"
          :class="{ now: one.second === column.seconds!.now(), odd: one.second % 2 }"
        >
          <rect :x="one.left" :y="one.top" :width="one.width" :height="one.height" />
          <text v-if="one.height > 12" :x="one.left + 3" :y="one.top + 10">{{ one.second + 1 }}</text>
        </g>
      </svg>
      <span
        v-for="one in keyframes"
        :key="`key${one.position}`"
        class="keyframe"
        :title="one.words"
        :style="{ top: `${((one.position + 0.5) / shot.count) * height}px` }"
      ></span>
      <span
        v-for="one in hidden"
        :key="`hidden${one.first}`"
        class="hidden-point"
        title="The held point is hidden here"
        :style="band(one.first, one.last)"
      ></span>
      <span v-for="one in unused" :key="`unused${one.first}`" class="unused" :style="band(one.first, one.last)"></span>
      <span
        v-for="one in mendedPlaces"
        :key="`mended${one.id}`"
        class="mended"
        :style="band(one.position, one.position)"
      ></span>
      <span v-for="one in asideBands" :key="one.first" class="aside-band" :style="band(one.first, one.last)"></span>
      <span v-if="shot.stretch" class="stretch" :style="band(shot.stretch.first, shot.stretch.last)"></span>
      <span
        v-for="mark in marks"
        :key="`${mark.kind}${mark.position}`"
        class="mark"
        :title="mark.sentence"
        :style="{ top: `${(mark.position / shot.count) * height}px` }"
      ></span>
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

.keyframe {
  background: var(--bright-paper);
  border: 2px solid var(--line);
  border-radius: 50%;
  height: 9px;
  left: 2px;
  margin-top: -4.5px;
  position: absolute;
  width: 9px;
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

.hidden-point {
  background: var(--saffron);
  pointer-events: none;
  position: absolute;
  right: 0;
  width: 4px;
}

.aside-band {
  background: repeating-linear-gradient(
    45deg,
    color-mix(in srgb, var(--paper) 85%, transparent) 0 3px,
    color-mix(in srgb, var(--soft-ink) 55%, transparent) 3px 4px
  );
  left: 0;
  pointer-events: none;
  position: absolute;
  right: v-bind("`${columns.length * 46}px`");
}

.unused {
  background: color-mix(in srgb, var(--paper) 80%, transparent);
  left: 0;
  pointer-events: none;
  position: absolute;
  right: 0;
}

.mended {
  border-left: 4px double var(--moss);
  left: 0;
  margin-left: 10px;
  min-height: 5px;
  pointer-events: none;
  position: absolute;
}

.stretch {
  background: color-mix(in srgb, var(--line) 16%, transparent);
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
