<script setup lang="ts">
import { computed, ref } from "vue";

import { useFrames } from "../../stage/frames";
import { useDrag, type Place } from "../../parts/drag";
import { asShare } from "../../parts/shares";
import { led } from "./areas";
import { useLight } from "./light";

/** The part of the picture by which light is judged: shown, and dragged over anew. */
const light = useLight();
const frames = useFrames();
const tool = ref<HTMLElement>();
const drawn = ref<{ from: Place; to: Place }>();
const isDrawing = computed(() => frames.drawing === "region");
const box = computed(() => {
  const region = light.light.even.region;
  const ends =
    drawn.value ??
    (region && light.laid
      ? {
          from: led(light.laid.to_frame, { x: region.left, y: region.top }),
          to: led(light.laid.to_frame, { x: region.right, y: region.bottom }),
        }
      : undefined);
  if (!ends) return undefined;
  const { from, to } = ends;
  const [left, top] = [Math.min(from.x, to.x), Math.min(from.y, to.y)];
  return {
    left: `${left * 100}%`,
    top: `${top * 100}%`,
    width: `${Math.abs(to.x - from.x) * 100}%`,
    height: `${Math.abs(to.y - from.y) * 100}%`,
  };
});

const drag = useDrag<Place>(tool, {
  take: (at) => (drawn.value = { from: at, to: at }).from,
  pull: (from, to) => (drawn.value = { from, to }),
  keep,
  drop: () => (drawn.value = undefined),
});

function keep(): void {
  const ends = drawn.value;
  drawn.value = undefined;
  if (!ends || !light.laid) return;
  frames.drawing = undefined;
  const [from, to] = [led(light.laid.to_still, ends.from), led(light.laid.to_still, ends.to)];
  const [left, right, top, bottom] = [
    Math.min(from.x, to.x),
    Math.max(from.x, to.x),
    Math.min(from.y, to.y),
    Math.max(from.y, to.y),
  ].map(asShare) as [number, number, number, number];
  if (right - left < 0.02 || bottom - top < 0.02) return;
  void light.set("even.region", { left, top, right, bottom }, "");
}
</script>

<template>
  <div ref="tool" class="tool" :class="{ drawing: isDrawing }" v-on="drag.on">
    <span v-if="box" class="region" :style="box"></span>
  </div>
</template>

<style scoped>
.tool {
  inset: 0;
  overflow: hidden;
  pointer-events: none;
  position: absolute;
  touch-action: none;
}

.drawing {
  cursor: crosshair;
  pointer-events: auto;
}

.region {
  border: 1.5px dashed var(--on-picture);
  box-shadow: 0 0 0 1px var(--under-mark);
  position: absolute;
}
</style>
