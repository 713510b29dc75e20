<script setup lang="ts">
import { refDebounced } from "@vueuse/core";
import { computed, ref } from "vue";

import { addresses, api } from "../../api/client";
import { useFrames } from "../../stage/frames";
import { useViewModes } from "../../stage/viewModes";
import { useShot } from "../../stores/shot";
import { useTogether } from "../../stage/together";
import { useDrag } from "../../parts/drag";
import PutTogether from "../../stage/PutTogether.vue";
import { frameMoved } from "../../stage/framed/framing";
import { useTurnedPicture } from "../../stage/framed/whole";

const shot = useShot();
const frames = useFrames();
const modes = useViewModes();
const together = useTogether();
const box = ref<HTMLElement>();
const seen = computed(() => shot.brief?.seen);
const fit = computed(() => shot.decisions!.fit);
const { steady, shown, refusal, waiting } = useTurnedPicture((turned) => {
  const still = shot.shownStill;
  if (!still || !shot.shot) return undefined;
  if (frames.under === "still") return addresses.around(shot.shot.id, still, shot.revision, turned, 1280);
  if (!together.isReady) return undefined;
  const { first, last } = modes.stretch;
  return addresses.wholeAround(shot.shot.id, frames.under, first, last, shot.revision, turned);
});
const outline = computed(() => seen.value?.corners.map((corner) => corner.join(" ")).join("L") ?? "");
const late = refDebounced(
  computed(() => shown.value !== undefined && shown.value.address !== steady.value),
  400,
);
const words = computed(() =>
  frames.under === "still" ? `Still ${shot.shown + 1} whole` : `${frames.under} of the whole shot`,
);

const drag = useDrag<typeof fit.value>(box, {
  take(at) {
    if (frames.drawing !== "colour") return fit.value;
    void pick(at);
    return undefined;
  },
  pull(from, _, by) {
    if (seen.value) shot.tryOut({ fit: frameMoved(from, seen.value, by) });
  },
  keep: () => shot.settle(),
  drop: () => shot.drop(),
});

async function pick(at: { x: number; y: number }): Promise<void> {
  const { colour } = await api.colour(shot.shot!.id, shot.shown, at.x, at.y, shot.revision);
  frames.show("frame");
  await shot.decide({ fit: { surround: { kind: "colour", colour } } });
}
</script>

<template>
  <p v-if="refusal" class="sentence" role="alert">{{ refusal }}</p>
  <div v-else ref="box" class="around" :class="{ picking: frames.drawing === 'colour' }" v-on="drag.on">
    <img v-if="shown" :src="shown.source" :alt="words" draggable="false" />
    <PutTogether v-else-if="frames.under !== 'still' && !together.isReady" />
    <p v-else-if="waiting" class="sentence" role="status">Being made …</p>
    <p v-if="late" class="sentence late" role="status">Being made …</p>
    <svg v-if="outline && !frames.drawing" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
      <path class="outside" :d="`M0 0H1V1H0Z M${outline}Z`" />
      <path class="edge dark" :d="`M${outline}Z`" />
      <path class="edge" :d="`M${outline}Z`" />
    </svg>
  </div>
</template>

<style scoped>
.around {
  box-shadow: 0 0 0 1px var(--picture-edge);
  cursor: move;
  height: 100%;
  position: relative;
  touch-action: none;
  width: 100%;
}

.picking {
  cursor: crosshair;
}

img {
  display: block;
  height: 100%;
  user-select: none;
  width: 100%;
}

svg {
  height: 100%;
  inset: 0;
  pointer-events: none;
  position: absolute;
  width: 100%;
}

.outside {
  fill: var(--outside-picture);
  fill-rule: evenodd;
}

.edge {
  fill: none;
  stroke: var(--on-picture);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}

.edge.dark {
  stroke: var(--line);
  stroke-width: 4;
}

.late {
  z-index: 1;
  left: 0.6rem;
  position: absolute;
  top: 0.6rem;
}

.sentence {
  background: var(--paper);
  border-radius: var(--round);
  padding: 0.7rem 1rem;
}
</style>
