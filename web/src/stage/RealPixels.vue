<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { addresses } from "../api/client";
import { useViewModes } from "./viewModes";
import { useShot } from "../stores/shot";
import { useDrag, type Place } from "../parts/drag";
import { usePicture } from "./picture";

const widest = 2000;
const shot = useShot();
const modes = useViewModes();
const area = ref<HTMLElement>();
const { width, height } = useElementSize(area);
const density = window.devicePixelRatio;
const still = computed(() => shot.stills.stills[modes.position]);
const size = computed(() => ({
  width: Math.min(widest, Math.round(width.value * density)),
  height: Math.min(widest, Math.round(height.value * density)),
}));
const address = computed(() => {
  if (!still.value || !modes.spot || size.value.width < 16 || size.value.height < 16) return undefined;
  const { x, y } = modes.spot;
  // What was removed is not seen any more; where nothing was, one picture does for all revisions.
  const revision = shot.decisions?.check.dust.length ? shot.revision : 0;
  return addresses.spot(shot.shot!.id, still.value, x, y, size.value.width, size.value.height, revision);
});
const { shown, refusal } = usePicture(address);

const drag = useDrag<Place>(area, {
  take(_, event) {
    event.preventDefault();
    return modes.spot && { ...modes.spot };
  },
  pull,
  drop: (from) => (modes.spot = from),
});

/** Keep the middle of what is seen within the still. */
function inside(share: number, seen: number, whole: number): number {
  const margin = Math.min(0.5, seen / whole / 2);
  return Math.max(margin, Math.min(1 - margin, share));
}

function pull(from: Place, _: Place, by: Place): void {
  if (!still.value) return;
  const { width, height } = still.value;
  modes.spot = {
    x: inside(from.x - (by.x * size.value.width) / width, size.value.width, width),
    y: inside(from.y - (by.y * size.value.height) / height, size.value.height, height),
  };
}
</script>

<template>
  <div ref="area" class="pixels" v-on="drag.on">
    <img
      v-if="shown"
      :src="shown.source"
      :style="{ width: `${size.width / density}px` }"
      :alt="`Real pixels of still ${modes.position + 1}`"
      draggable="false"
    />
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </div>
</template>

<style scoped>
.pixels {
  cursor: grab;
  height: 100%;
  overflow: hidden;
  touch-action: none;
  user-select: none;
  width: 100%;
}

.pixels:active {
  cursor: grabbing;
}

img {
  display: block;
  image-rendering: pixelated;
}
</style>
