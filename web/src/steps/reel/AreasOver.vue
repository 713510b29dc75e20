<script setup lang="ts">
import { computed, ref, shallowRef } from "vue";

import type { ReelPart, ReelPicture } from "../../api/client";
import { placeIn } from "../../stage/picture";
import { useReel } from "./reel";

/**
 * The rectangles of pictures that lie where one puts them: dragged by their middle, resized by their corner, or by
 * keys.
 */
const props = defineProps<{ part: ReelPart }>();

type Area = NonNullable<ReelPicture["area"]>;

const reel = useReel();
const root = ref<HTMLElement>();
const dragged = shallowRef<{ at: number; from: Area; begun: { x: number; y: number }; resizes: boolean }>();
const whole: Area = { left: 0, top: 0, width: 1, height: 1 };
const names = computed(() => reel.parts.find((one) => one.id === props.part.id)?.shots.map((one) => one.name) ?? []);
const areas = computed(() => props.part.pictures.map((one) => one.area ?? whole));

const within = (low: number, value: number, high: number) => Math.max(low, Math.min(high, value));

/** Change a rectangle by so much of the frame, and keep it inside. */
function changed(from: Area, dx: number, dy: number, resizes: boolean): Area {
  if (resizes)
    return {
      ...from,
      width: within(0.05, from.width + dx, 1 - from.left),
      height: within(0.05, from.height + dy, 1 - from.top),
    };
  return { ...from, left: within(0, from.left + dx, 1 - from.width), top: within(0, from.top + dy, 1 - from.height) };
}

function put(at: number, area: Area): void {
  const pictures = props.part.pictures.map((one, other) => (other === at ? { ...one, area } : one));
  reel.attempt((now) => ({ parts: now.parts.map((one) => (one.id === props.part.id ? { ...one, pictures } : one)) }));
}

function press(event: PointerEvent, at: number, resizes: boolean): void {
  (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
  dragged.value = { at, from: areas.value[at]!, begun: placeIn(root.value!, event), resizes };
}

function drag(event: PointerEvent): void {
  const now = dragged.value;
  if (!now) return;
  const to = placeIn(root.value!, event);
  put(now.at, changed(now.from, to.x - now.begun.x, to.y - now.begun.y, now.resizes));
}

function release(): void {
  if (dragged.value) void reel.settle();
  dragged.value = undefined;
}

function keys(event: KeyboardEvent, at: number): void {
  const way = { ArrowLeft: [-0.01, 0], ArrowRight: [0.01, 0], ArrowUp: [0, -0.01], ArrowDown: [0, 0.01] }[event.key];
  if (!way) return;
  event.preventDefault();
  event.stopPropagation();
  put(at, changed(areas.value[at]!, way[0]!, way[1]!, event.shiftKey));
}

const styleOf = (area: Area) => ({
  left: `${100 * area.left}%`,
  top: `${100 * area.top}%`,
  width: `${100 * area.width}%`,
  height: `${100 * area.height}%`,
});
</script>

<template>
  <div ref="root" class="over">
    <div
      v-for="(area, at) in areas"
      :key="at"
      class="area"
      :style="styleOf(area)"
      role="button"
      tabindex="0"
      :aria-label="`Where ${names[at] ?? 'a picture'} lies: drag it, or use the arrow keys, with Shift to resize`"
      @pointerdown="press($event, at, false)"
      @pointermove="drag"
      @pointerup="release"
      @pointercancel="release"
      @keydown="keys($event, at)"
      @keyup="reel.settle()"
    >
      <span
        class="corner"
        @pointerdown.stop="press($event, at, true)"
        @pointermove.stop="drag"
        @pointerup.stop="release"
        @pointercancel.stop="release"
      ></span>
    </div>
  </div>
</template>

<style scoped>
.over {
  inset: 0;
  position: absolute;
}

.area {
  cursor: move;
  outline: 2px dashed var(--on-picture-soft);
  outline-offset: -2px;
  position: absolute;
  touch-action: none;
}

.area:focus-visible {
  outline: 3px solid var(--line);
}

.corner {
  border-bottom: 4px solid var(--on-picture);
  border-right: 4px solid var(--on-picture);
  bottom: 0;
  cursor: nwse-resize;
  height: 24px;
  position: absolute;
  right: 0;
  touch-action: none;
  width: 24px;
}
</style>
