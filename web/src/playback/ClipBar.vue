<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";
import { useDragTo } from "../parts/drag";

import { useClip } from "./clip";
import { useShot } from "../stores/shot";

const clip = useClip();
const shot = useShot();
const bar = ref<HTMLElement>();
const { width } = useElementSize(bar);

const frames = computed(() => clip.playback?.frames ?? 0);
const steps = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600];
/** Where a second begins, written as far apart as there is room for. */
const seconds = computed(() => {
  const starts = clip.playback?.seconds ?? [];
  const step = steps.find((one) => (width.value / Math.max(1, starts.length)) * one >= 34) ?? 3600;
  return starts
    .map((frame, second) => ({ frame, second }))
    .filter(({ frame, second }) => second % step === 0 && frame < frames.value)
    .map(({ frame, second }) => ({
      left: `${(frame / frames.value) * 100}%`,
      text: second && frame < frames.value * 0.95 ? `${second} s` : "",
    }));
});
const pointer = computed(() => (frames.value ? `${((clip.frame + 0.5) / frames.value) * 100}%` : "0"));
const last = computed(() => clip.playback?.timecodes.at(-1) ?? "");
const clock = computed(() => {
  const taken = shot.shownStill?.captured_at;
  return taken ? taken.slice(11, 19) : "";
});
const drops = computed(() => {
  if (!clip.playing) return "";
  if (clip.waiting) return "waiting for the next frames …";
  const { shown, dropped } = clip.tally;
  if (!shown) return "";
  return dropped
    ? `${dropped.toLocaleString("en")} of ${(shown + dropped).toLocaleString("en")} frames dropped`
    : "every frame shown";
});

const drag = useDragTo(bar, ({ x }) => {
  if (clip.playing) clip.pause();
  clip.goTo(Math.floor(x * frames.value));
});
</script>

<template>
  <div class="clip-bar" role="group" aria-label="The clip">
    <button type="button" class="play" :disabled="!frames" title="Space" @click="clip.toggle()">
      {{ clip.playing ? "pause" : "play" }}
    </button>
    <output class="number code" :title="clip.playback?.counting" aria-label="Timecode">{{
      clip.timecode || "00:00:00:00"
    }}</output>
    <div
      ref="bar"
      class="bar"
      role="slider"
      tabindex="0"
      aria-label="Frame of the clip"
      aria-valuemin="1"
      :aria-valuemax="frames"
      :aria-valuenow="clip.frame + 1"
      :aria-valuetext="clip.timecode"
      v-on="drag"
      @wheel.prevent="clip.step(Math.sign($event.deltaY))"
    >
      <span v-for="one in seconds" :key="one.left" class="second number" :style="{ left: one.left }">{{
        one.text
      }}</span>
      <span v-if="frames" class="pointer" :class="{ by: !clip.at }" :style="{ left: pointer }"></span>
    </div>
    <span class="number quiet" :title="`The last frame. ${clip.playback?.counting ?? ''}`">{{ last }}</span>
  </div>
  <p class="facts">
    <span class="number">frame {{ (clip.frame + 1).toLocaleString("en") }} of {{ frames.toLocaleString("en") }}</span>
    <span v-if="clock" class="number" title="When this still was taken, by the camera's clock">taken {{ clock }}</span>
    <span v-if="shot.brief?.clock" class="quiet pace" :title="shot.brief.clock">{{ shot.brief.clock }}</span>
    <span v-if="clip.refusal" class="warning" role="alert">{{ clip.refusal }}</span>
    <span v-else-if="drops" :class="clip.tally.dropped || clip.waiting ? 'warning' : 'quiet'" role="status">{{
      drops
    }}</span>
  </p>
</template>

<style scoped>
.clip-bar {
  align-items: center;
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 0.8rem;
  grid-template-columns: 4.2rem auto minmax(0, 1fr) auto;
  height: 40px;
  padding: 0 1rem;
}

.play {
  background: none;
  border: 1px solid var(--line);
  border-radius: var(--round);
  color: var(--line);
  cursor: pointer;
  font: inherit;
  font-weight: 700;
  height: 1.75rem;
}

.play:hover:not(:disabled) {
  background: var(--line-pale);
}

.play:disabled {
  cursor: default;
  opacity: 0.5;
}

.code {
  cursor: help;
  font-weight: 500;
}

.bar {
  border-bottom: 1px solid var(--soft-ink);
  cursor: ew-resize;
  height: 26px;
  position: relative;
  touch-action: none;
}

.second {
  border-left: 1px solid var(--soft-ink);
  bottom: 0;
  color: var(--soft-ink);
  font-size: var(--type-tiny);
  height: 10px;
  line-height: 8px;
  padding-left: 3px;
  pointer-events: none;
  position: absolute;
  white-space: nowrap;
}

.pointer {
  background: var(--line);
  bottom: -3px;
  margin-left: -1px;
  pointer-events: none;
  position: absolute;
  top: 0;
  width: 3px;
}

.pointer.by {
  background: none;
  border-left: 2px dashed var(--line);
}

.facts {
  align-items: baseline;
  display: flex;
  font-size: var(--type-near);
  gap: 0.9rem;
  overflow: hidden;
  padding: 0 1rem 0.35rem;
  white-space: nowrap;
}

.pace {
  font-size: var(--type-small);
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
