<script setup lang="ts">
import { computed, ref, type Component } from "vue";

import { useClip } from "../../playback/clip";
import ClipVideo from "../../playback/ClipVideo.vue";
import { useFrames } from "../frames";
import { arrowOf, placeIn, useDrag } from "../../parts/drag";
import { usePicture } from "../picture";
import type { Grip, StepStage } from "../stepStage";
import FrameGuides from "./FrameGuides.vue";

const props = defineProps<{
  address: string | undefined;
  own: StepStage;
  grip: Grip | undefined;
  words: string;
  aside: boolean;
  overlayMask?: string;
  over?: Component;
}>();

const clip = useClip();
const frames = useFrames();
const box = ref<HTMLElement>();
const { shown, refusal, waiting } = usePicture(computed(() => props.address));
const { shown: masked } = usePicture(computed(() => (clip.playing ? undefined : props.overlayMask)));
const line = computed(() => props.grip?.line.value);
/** The video goes away once the picture of the frame it stopped at is there. */
const moving = computed(() => {
  if (clip.playing) return clip.moving;
  return clip.stopped !== undefined && clip.at === clip.stopped && shown.value?.address !== props.address;
});

const drag = useDrag<Grip>(box, {
  take(at) {
    if (props.own.press?.(at) || !props.grip) return undefined;
    props.grip.press(at);
    return props.grip;
  },
  pull: (grip, at) => grip.move(at),
  keep: (grip) => grip.release(),
  drop: (grip) => grip.drop(),
});

function nudge(event: KeyboardEvent): void {
  if (event.key === "Escape") box.value?.blur();
  if (!props.grip || event.altKey) return;
  const by = arrowOf(event, 1);
  if (!by || !props.grip.nudge(by.x, by.y)) return;
  event.preventDefault();
  event.stopPropagation();
}

defineExpose({ waiting });
</script>

<template>
  <p v-if="refusal && !clip.playing" class="sentence" role="alert">{{ refusal }}</p>
  <div
    v-else
    ref="box"
    class="frame-box"
    :class="{
      movable: grip,
      drawing: frames.drawing === 'level' || frames.drawing === 'grey' || frames.drawing === 'hue',
    }"
    :tabindex="grip ? 0 : undefined"
    :role="grip ? 'group' : undefined"
    :aria-label="grip?.label"
    v-on="drag.on"
    @wheel.prevent="grip?.wheel($event.deltaY, placeIn(box!, $event))"
    @keydown="nudge"
  >
    <img v-if="shown" :src="shown.source" :class="{ aside }" :alt="words" draggable="false" />
    <p v-else-if="waiting" class="sentence" role="status">Being made …</p>
    <img
      v-if="masked && overlayMask && !clip.playing"
      class="overlay-mask"
      :src="masked.source"
      alt=""
      draggable="false"
    />
    <ClipVideo :class="{ unseen: !moving }" />
    <component :is="over" v-if="over && !clip.playing" />
    <FrameGuides v-if="grip || frames.guides.length" />
    <svg v-if="line" class="line" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
      <line
        v-for="shade in ['dark', 'light']"
        :key="shade"
        :class="shade"
        :x1="line.from.x"
        :y1="line.from.y"
        :x2="line.to.x"
        :y2="line.to.y"
      />
    </svg>
  </div>
</template>

<style scoped>
.frame-box {
  box-shadow: 0 0 0 1px var(--picture-edge);
  height: 100%;
  position: relative;
  width: 100%;
}

.movable {
  cursor: grab;
  touch-action: none;
}

.movable:focus {
  outline: 2px solid var(--line);
  outline-offset: 3px;
}

.movable:active {
  cursor: grabbing;
}

.drawing,
.drawing:active {
  cursor: crosshair;
}

.frame-box > img {
  display: block;
  height: 100%;
  user-select: none;
  width: 100%;
}

.frame-box > .overlay-mask {
  inset: 0;
  pointer-events: none;
  position: absolute;
}

.unseen {
  opacity: 0;
}

img.aside {
  filter: grayscale(0.7) opacity(0.55);
}

.line {
  height: 100%;
  inset: 0;
  overflow: visible;
  pointer-events: none;
  position: absolute;
  width: 100%;
}

.line line {
  vector-effect: non-scaling-stroke;
}

.line .dark {
  stroke: var(--under-mark);
  stroke-width: 4;
}

.line .light {
  stroke: var(--on-picture);
  stroke-width: 1.6;
}

.sentence {
  background: var(--paper);
  border-radius: var(--round);
  max-width: 32rem;
  padding: 0.7rem 1rem;
}
</style>
