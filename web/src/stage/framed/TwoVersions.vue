<script setup lang="ts">
import { computed, ref } from "vue";

import { addresses } from "../../api/client";
import InStepVideo from "../../playback/InStepVideo.vue";
import { useClip } from "../../playback/clip";
import { useFrames } from "../frames";
import { useInStep } from "./inStep";
import { useShot } from "../../stores/shot";
import { useDragTo } from "../../parts/drag";
import { asShare } from "../../parts/shares";
import { usePicture, widthFor } from "../picture";
import StagePicture from "../StagePicture.vue";

const props = defineProps<{ width: number }>();

const shot = useShot();
const frames = useFrames();
const clip = useClip();
const box = ref<HTMLElement>();
const share = ref(0.5);
const wanted = computed(() => widthFor(props.width));
const still = computed(() => shot.shownStill);
const now = computed(
  () => still.value && addresses.framed(shot.shot!.id, still.value, shot.revision, shot.tried, wanted.value),
);
const { answer: inStep, refusal, otherAddress } = useInStep(() => true);
const earlier = computed(() => otherAddress(wanted.value));
const { shown: nowShown } = usePicture(now);
const { shown: earlierShown } = usePicture(earlier);
const earlierWords = computed(() => frames.otherWords);

const drag = useDragTo(box, ({ x }) => (share.value = asShare(x)));

function nudge(event: KeyboardEvent): void {
  const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
  if (by === undefined) return;
  event.preventDefault();
  share.value = asShare(share.value + by);
}
</script>

<template>
  <p v-if="refusal && (clip.playing || frames.otherShot)" class="sentence" role="alert">{{ refusal }}</p>
  <div v-if="frames.mode === 'split'" ref="box" class="split" v-on="drag">
    <img v-if="nowShown" :src="nowShown.source" alt="The frame as it is now" draggable="false" />
    <img
      v-if="earlierShown"
      class="earlier"
      :src="earlierShown.source"
      :alt="`The frame in ${earlierWords}`"
      draggable="false"
      :style="{ clipPath: `inset(0 ${(1 - share) * 100}% 0 0)` }"
    />
    <InStepVideo v-if="clip.playing" class="playing" :played="inStep" shows="split" :share="share" />
    <span class="name left">{{ earlierWords }}</span><span class="name right">now</span>
    <div
      class="line"
      role="slider"
      tabindex="0"
      aria-label="Where the earlier picture ends"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-valuenow="Math.round(share * 100)"
      :style="{ left: `${share * 100}%` }"
      @keydown="nudge"
    ></div>
  </div>
  <div v-else-if="clip.playing" class="both">
    <InStepVideo :played="inStep" shows="pair" :share="0" />
    <p class="names">
      <span>{{ earlierWords }}</span><span>now</span>
    </p>
  </div>
  <div v-else class="pair">
    <figure>
      <StagePicture :address="earlier" :words="`The frame in ${earlierWords}`" />
      <figcaption>{{ earlierWords }}</figcaption>
    </figure>
    <figure>
      <StagePicture :address="now" words="The frame as it is now" />
      <figcaption>now</figcaption>
    </figure>
  </div>
</template>

<style scoped>
.split {
  cursor: ew-resize;
  height: 100%;
  position: relative;
  touch-action: none;
  width: 100%;
}

.split img {
  height: 100%;
  inset: 0;
  object-fit: contain;
  position: absolute;
  user-select: none;
  width: 100%;
}

/* The pictures that stand still stay under it until the first frame is there. */
.playing {
  inset: 0;
  position: absolute;
}

.both {
  align-content: center;
  display: grid;
  gap: 0.5rem;
  grid-template-rows: minmax(0, auto) auto;
  height: 100%;
  width: 100%;
}

.names {
  color: var(--ink);
  display: grid;
  grid-template-columns: 1fr 1fr;
  justify-items: center;
}

.names span {
  background: var(--paper);
  border-radius: var(--round);
  padding: 0.1rem 0.5rem;
}

.line {
  background: var(--on-picture);
  bottom: 0;
  box-shadow: 0 0 0 1px var(--line);
  margin-left: -1px;
  position: absolute;
  top: 0;
  width: 2px;
}

.name,
figcaption {
  background: var(--paper);
  border-radius: var(--round);
  padding: 0.1rem 0.5rem;
}

.name {
  bottom: 0.6rem;
  position: absolute;
}

.left {
  left: 0.6rem;
}

.right {
  right: 0.6rem;
}

.pair {
  align-items: center;
  display: grid;
  gap: 1rem;
  grid-template-columns: 1fr 1fr;
  height: 100%;
  width: 100%;
}

figure {
  align-items: center;
  display: flex;
  flex-direction: column;
  gap: 0.5rem;
  height: 100%;
  justify-content: center;
  margin: 0;
  min-height: 0;
  min-width: 0;
}
</style>
