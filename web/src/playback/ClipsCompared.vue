<script setup lang="ts">
import { useIntervalFn } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import { useDragTo } from "../parts/drag";

import { addresses, type Clip } from "../api/client";
import { onKey } from "../keys/keys";
import FilesInStep from "./FilesInStep.vue";
import { partnerOf } from "./pairing";
import { bytesText } from "../parts/wording";

const props = defineProps<{ clips: [Clip, Clip] }>();
defineEmits<{ close: [] }>();

const BLINK_MS = 700;
const frame = ref(props.clips[0].lowest_at ?? 0);
const share = ref(50);
const blinking = ref(false);
const second = ref(false);
const asked = ref(frame.value);
const frames = computed(() => props.clips[0].frames);
const playing = ref(false);
/** Animated pictures are shown frame by frame only. */
const canPlay = computed(() => props.clips.every((one) => !one.plays_as.startsWith("image/")));
const beside = computed(() => partnerOf(asked.value, frames.value, props.clips[1].frames));
const shows = computed(() => (blinking.value ? (second.value ? "second" : "first") : "split"));
const area = ref<HTMLElement>();
const { pause, resume } = useIntervalFn(() => (second.value = !second.value), BLINK_MS, { immediate: false });

watch(blinking, (on) => {
  second.value = false;
  if (on) resume();
  else pause();
});

/** What tells a clip from another of the same shot: its format, which the summary names, and its size. */
function words(clip: Clip): string {
  const format = clip.summary.split(", ").slice(4).join(", ").split(" yuv")[0] || clip.name;
  return `${format}, ${bytesText(clip.bytes)}`;
}

/** Where it stops, both are shown as they are in the file. */
function toggle(): void {
  playing.value = !playing.value;
  if (!playing.value) go(frame.value);
}

function go(to: number): void {
  playing.value = false;
  frame.value = Math.max(0, Math.min(frames.value - 1, to));
  asked.value = frame.value;
}

const drag = useDragTo(area, ({ x }) => (share.value = Math.max(0, Math.min(100, 100 * x))));

onKey((event) => {
  if (event.key === "ArrowUp" || event.key === "ArrowDown") {
    go(frame.value + (event.key === "ArrowDown" ? 1 : -1) * (event.shiftKey ? 10 : 1));
    return true;
  }
  if (event.key === " " && canPlay.value) {
    toggle();
    return true;
  }
  if (event.key.toLowerCase() === "b") {
    blinking.value = !blinking.value;
    return true;
  }
  return false;
});
</script>

<template>
  <div class="compared">
    <div ref="area" class="pair" v-on="drag">
      <img
        :src="addresses.clipFrame(clips[0].id, asked)"
        :alt="`Frame ${asked + 1} of ${clips[0].name}`"
        draggable="false"
      />
      <img
        :src="addresses.clipFrame(clips[1].id, beside)"
        :alt="`Frame ${beside + 1} of ${clips[1].name}`"
        draggable="false"
        :style="{ clipPath: blinking ? (second ? 'none' : 'inset(0 0 0 100%)') : `inset(0 0 0 ${share}%)` }"
      />
      <FilesInStep
        v-if="playing"
        :clips="clips"
        :from="asked"
        :shows="shows"
        :share="share / 100"
        @frame="frame = $event"
      />
      <span v-if="!blinking" class="edge" :style="{ left: `${share}%` }" aria-hidden="true"></span>
    </div>
    <div class="row">
      <span class="which" :class="{ dim: blinking && second }" :title="clips[0].name">{{ words(clips[0]) }}</span>
      <label class="split"
        ><span class="quiet">{{ blinking ? "blinking" : "left | right" }}</span
        ><input
          v-model.number="share"
          type="range"
          min="0"
          max="100"
          step="0.5"
          :disabled="blinking"
          aria-label="Where the left one ends"
      /></label>
      <span class="which end" :class="{ dim: blinking && !second }" :title="clips[1].name">{{ words(clips[1]) }}</span>
    </div>
    <div class="row">
      <button v-if="canPlay" type="button" class="plain-button" title="Space" @click="toggle">
        {{ playing ? "pause" : "play" }}
      </button>
      <button type="button" class="plain-button" :aria-pressed="blinking" title="B" @click="blinking = !blinking">
        {{ blinking ? "side by side" : "blink" }}
      </button>
      <input
        v-model.number="frame"
        type="range"
        min="0"
        :max="frames - 1"
        aria-label="Frame that is compared"
        @change="go(frame)"
      />
      <span class="number">frame {{ (frame + 1).toLocaleString("en") }} of {{ frames.toLocaleString("en") }}</span>
      <button type="button" class="plain-button" @click="$emit('close')">back to the frames</button>
    </div>
  </div>
</template>

<style scoped>
.compared {
  align-content: center;
  display: grid;
  gap: 0.5rem;
  grid-template-rows: minmax(0, auto) auto auto;
  height: 100%;
  width: 100%;
}

.pair {
  cursor: ew-resize;
  display: grid;
  justify-self: center;
  min-height: 0;
  position: relative;
  touch-action: none;
}

.pair img {
  display: block;
  grid-area: 1 / 1;
  max-height: 100%;
  max-width: 100%;
  min-height: 0;
  user-select: none;
}

.edge {
  background: var(--on-picture);
  bottom: 0;
  box-shadow: 0 0 0 1px var(--under-mark);
  position: absolute;
  top: 0;
  width: 2px;
}

.row {
  align-items: center;
  background: var(--paper);
  border-radius: var(--round);
  color: var(--ink);
  display: grid;
  gap: 1rem;
  grid-template-columns: auto auto 1fr auto auto;
  padding: 0.25rem 0.6rem;
}

.row:nth-child(2) {
  grid-template-columns: 1fr minmax(8rem, 12rem) 1fr;
}

.which {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.which.end {
  text-align: right;
}

.which.dim {
  opacity: 0.45;
}

.split {
  display: grid;
  text-align: center;
}
</style>
