<script setup lang="ts">
import { computed, ref } from "vue";

import type { ReelPart, ReelPicture } from "../../api/client";
import { nudged, useDrag } from "../../parts/drag";
import { useReel } from "./reel";

/**
 * The rectangles of pictures that lie where one puts them: dragged by their middle, resized by their corner, or by
 * keys.
 */
const props = defineProps<{ part: ReelPart }>();

type Area = NonNullable<ReelPicture["area"]>;

const reel = useReel();
const root = ref<HTMLElement>();
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

type Handle = { at: number; resizes: boolean };
const drag = useDrag<Handle & { from: Area }, Handle>(root, {
  take: (_, event, handle) => {
    event.stopPropagation();
    return { ...handle, from: areas.value[handle.at]! };
  },
  pull: ({ at, from, resizes }, _, by) => put(at, changed(from, by.x, by.y, resizes)),
  keep: () => void reel.settle(),
  drop: () => reel.drop(),
});

/** With Shift a rectangle is resized. */
function keys(event: KeyboardEvent, at: number): void {
  const by = nudged(event, event.shiftKey ? 0.001 : 0.01);
  if (by) put(at, changed(areas.value[at]!, by.x, by.y, event.shiftKey));
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
      @pointerdown="drag.begin($event, { at, resizes: false })"
      @keydown="keys($event, at)"
      @keyup="reel.settle()"
    >
      <span class="corner" @pointerdown="drag.begin($event, { at, resizes: true })"></span>
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
