<script setup lang="ts">
import { useDebounceFn, useElementSize } from "@vueuse/core";
import { computed, ref, shallowRef, watch } from "vue";
import { useDrag } from "../../parts/drag";

import { addresses, api, type LoudnessCurve } from "../../api/client";
import { samples, seconds, useReel } from "./reel";
import { useScrub } from "./scrub";

const reel = useReel();
const body = ref<HTMLElement>();
const { height } = useElementSize(body);
const loudnessCurves = shallowRef<LoudnessCurve[]>([]);

const address = computed(() =>
  reel.reel && reel.frames ? addresses.reelTail(reel.reel.id, reel.revision) : undefined,
);
const share = (frame: number) => (reel.frames ? (100 * frame) / reel.frames : 0);
const rows = computed(() =>
  reel.parts
    .filter((part) => part.frames)
    .map((part, place) => ({
      ...part,
      top: share(part.start),
      high: share(part.frames),
      name: part.shots.map((shot) => shot.name).join(" beside "),
      odd: place % 2,
    })),
);

/** A curve is as thick as its sound is loud. */
const shapes = computed(() => {
  const middle = 10;
  return loudnessCurves.value.map((curve) => {
    const step = 1000 / Math.max(1, curve.loud.length);
    const wide = (loud: number) => (loud > 0.001 ? 0.6 + Math.sqrt(loud) * 9 : 0);
    const down = curve.loud.map((loud, at) => `${(middle + wide(loud)).toFixed(1)} ${((at + 0.5) * step).toFixed(1)}`);
    const up = curve.loud
      .map((loud, at) => `${(middle - wide(loud)).toFixed(1)} ${((at + 0.5) * step).toFixed(1)}`)
      .reverse();
    return { ...curve, path: curve.loud.length ? `M${down.join("L")}L${up.join("L")}Z` : "" };
  });
});

const askCurves = useDebounceFn(async () => {
  const id = reel.reel?.id;
  if (!id || !reel.decisions?.sound.tracks.length) {
    loudnessCurves.value = [];
    return;
  }
  try {
    const found = await api.loudnessCurves(
      id,
      reel.revision,
      reel.tried,
      Math.min(1200, Math.round(height.value) || 600),
    );
    if (id === reel.reel?.id) loudnessCurves.value = found;
  } catch {
    loudnessCurves.value = [];
  }
}, 120);
watch(
  [() => reel.reel?.id, () => reel.revision, () => reel.decisions?.sound, height, () => reel.frames],
  () => void askCurves(),
  { immediate: true },
);

const scrub = useScrub(body, "y");

/** A curve that is pulled up or down begins earlier or later. */
const pull = useDrag<{ track: number; start: number }, number>(body, {
  least: 0.005,
  take(_, event, id) {
    event.stopPropagation();
    const track = reel.decisions!.sound.tracks.find((one) => one.id === id);
    if (track) reel.track = id;
    return track && { track: id, start: track.start };
  },
  pull({ track, start }, _, by) {
    const later = by.y * (reel.frames / reel.rate);
    reel.attempt(reel.changeTrack(track, { start: samples(seconds(start) + later) }));
  },
  keep: (_, moved) => moved && void reel.settle(),
  drop: () => reel.drop(),
});

function wheel(event: WheelEvent): void {
  reel.step(Math.sign(event.deltaY));
}
</script>

<template>
  <aside class="tail" aria-label="The whole reel">
    <div
      ref="body"
      class="tail-body"
      role="slider"
      tabindex="0"
      aria-label="Frame"
      aria-orientation="vertical"
      :aria-valuemin="1"
      :aria-valuemax="Math.max(1, reel.frames)"
      :aria-valuenow="reel.frame + 1"
      :aria-valuetext="`frame ${reel.frame + 1} of ${reel.frames}, ${reel.timecode}`"
      v-on="scrub"
      @wheel.prevent="wheel"
    >
      <img v-if="address" :src="address" alt="" draggable="false" />
      <p v-else class="quiet empty">No shots in it yet.</p>
      <div
        v-for="row in rows"
        :key="row.id"
        class="part"
        :class="{ worked: row.id === reel.part }"
        :style="{ top: `${row.top}%`, height: `${row.high}%` }"
      >
        <span class="name">{{ row.name }}</span>
      </div>
      <svg
        v-for="curve in shapes"
        :key="curve.track"
        class="loudness"
        :class="{ worked: curve.track === reel.track }"
        viewBox="0 0 20 1000"
        preserveAspectRatio="none"
        role="img"
        :aria-label="`How loud ${curve.name} is`"
        @pointerdown="pull.begin($event, curve.track)"
      >
        <title>{{ curve.name }}: pull it down to begin later</title>
        <path :d="curve.path" />
      </svg>
      <div v-if="reel.frames" class="here" :style="{ top: `${share(reel.frame + 0.5)}%` }"></div>
    </div>
  </aside>
</template>

<style scoped>
.tail {
  border-right: 1px solid var(--hair);
  min-height: 0;
  padding: 10px 8px;
}

.tail-body {
  cursor: ns-resize;
  display: flex;
  gap: 2px;
  height: 100%;
  position: relative;
  touch-action: none;
}

img {
  flex: none;
  height: 100%;
  object-fit: fill;
  width: 134px;
}

.empty {
  padding: 1rem 0.4rem;
}

.part {
  border-top: 2px solid var(--paper);
  left: 0;
  pointer-events: none;
  position: absolute;
  width: 134px;
}

.part.worked {
  box-shadow: inset 3px 0 0 var(--line);
}

.part:first-of-type {
  border-top: 0;
}

.name {
  background: var(--picture-label);
  color: var(--on-picture);
  font-size: var(--type-tiny);
  left: 4px;
  max-width: 126px;
  overflow: hidden;
  padding: 0 0.3rem;
  position: absolute;
  text-overflow: ellipsis;
  top: 3px;
  white-space: nowrap;
}

.loudness {
  cursor: grab;
  flex: none;
  height: 100%;
  width: 20px;
}

.loudness path {
  fill: var(--bar-grey);
}

.loudness.worked path {
  fill: var(--line);
}

.here {
  border-top: 2px solid var(--kite);
  left: -4px;
  pointer-events: none;
  position: absolute;
  right: -4px;
}
</style>
