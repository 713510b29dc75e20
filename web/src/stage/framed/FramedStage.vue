<script setup lang="ts">
import { refDebounced } from "@vueuse/core";
import { defineAsyncComponent, computed, onBeforeUnmount, onMounted, ref, watch } from "vue";

import { addresses } from "../../api/client";
import { onKey } from "../../keys/keys";
import { useClip } from "../../playback/clip";
import { useFrames } from "../frames";
import { useShot } from "../../stores/shot";
import { placeIn } from "../../parts/drag";
import { widthFor } from "../picture";
import type { StepStage } from "../stepStage";
import FramedPicture from "./FramedPicture.vue";
import { useInStep } from "./inStep";
import ThreeFrames from "./ThreeFrames.vue";

const InStepVideo = defineAsyncComponent(() => import("../../playback/InStepVideo.vue"));
const TwoVersions = defineAsyncComponent(() => import("./TwoVersions.vue"));

const props = defineProps<{ own: StepStage; width: number; height: number }>();

const shot = useShot();
const clip = useClip();
const frames = useFrames();
/** In real pixels the frame is asked for as large as the clip is. */
const wanted = computed(() => (frames.real ? Math.min(3840, shot.decisions!.fit.size.width) : widthFor(props.width)));
const box = ref<HTMLElement>();
const under = ref<{ x: number; y: number }>();
const enlarged = computed(() => {
  if (!frames.real || mode.value !== "frame") return undefined;
  const { x, y } = frames.real;
  const scale = wanted.value / window.devicePixelRatio / Math.max(1, Math.min(props.width, props.height * shape.value));
  return { transform: `scale(${Math.max(1, scale)})`, transformOrigin: `${x * 100}% ${y * 100}%` };
});
/** What is drawn over the frame by hand, and what is laid over it. */
const over = computed(() => (frames.flipped ? undefined : props.own.over?.()));
const overlayMask = computed(() => (frames.flipped ? undefined : props.own.overlayMask?.(wanted.value)));
const flag = computed(() => props.own.flag?.() ?? (frames.flipped ? frames.otherWords : undefined));
const around = computed(() => props.own.around?.().shows);
const still = computed(() => shot.shownStill);
const mode = computed(() => {
  const both = frames.mode === "split" || frames.mode === "pair";
  return (clip.playing && !both) || (frames.mode === "around" && !around.value) ? "frame" : frames.mode;
});
/** Whether two settings play in step, of which one is shown: since it was flipped, until playing ends. */
const flips = ref(false);
const { answer: inStep, otherAddress } = useInStep(() => flips.value || frames.flipped);
const quick = computed(() => addressOf(true));
const full = computed(() => addressOf(false));
const settled = refDebounced(full, 250);
/** While going through it the picture comes quickly; where it rests, it sharpens. */
const address = computed<string | undefined>((before) => {
  if (clip.playing) return before;
  const rests = settled.value === full.value || (clip.at !== undefined && clip.at === clip.stopped);
  return rests ? full.value : quick.value;
});
const shape = computed(() => {
  const seen = shot.brief?.seen;
  if (mode.value === "around" && seen) return seen.width / seen.height;
  const { width, height } = (frames.flipped ? earlierSize.value : undefined) ?? shot.decisions!.fit.size;
  return width / height;
});
const earlierSize = ref<{ width: number; height: number }>();
const boxSize = computed(() => {
  const width = Math.min(props.width, props.height * shape.value);
  return { width: `${Math.floor(width)}px`, height: `${Math.floor(width / shape.value)}px` };
});
const words = computed(() =>
  frames.flipped
    ? `Still ${shot.shown + 1} ${typeof frames.against === "string" || frames.otherShot ? frames.otherWords : `as ${frames.otherWords} shows it`}`
    : `Still ${shot.shown + 1} as the clip shows it`,
);
const aside = computed(() => still.value !== undefined && shot.out.has(still.value.id));

/** What only passes by needs fewer pixels: twice as many pictures a second come. */
const passing = 640;

function addressOf(quickly: boolean): string | undefined {
  const id = shot.shot?.id;
  const width = quickly ? Math.min(wanted.value, passing) : wanted.value;
  if (!id || !still.value) return undefined;
  const instead = props.own.instead?.(width, quickly);
  if (instead) return instead;
  if (frames.flipped) return otherAddress(width, quickly);
  const place = clip.at;
  if (place && shot.peeked === undefined && place.playback === clip.playback)
    return addresses.frame(id, place.frame, shot.revision, shot.tried, width, quickly);
  return addresses.framed(id, still.value, shot.revision, shot.tried, width, quickly);
}

onMounted(() => (clip.wanted = true));
onBeforeUnmount(() => {
  clip.wanted = false;
  clip.pause();
});
watch(
  () => [clip.playing, frames.flipped] as const,
  ([plays, flipped]) => (flips.value = plays && (flipped || flips.value)),
);
watch(
  () => props.own,
  (own) => frames.show(own.opensWith?.() ?? "frame"),
);
watch(
  () => [frames.flipped, frames.other] as const,
  async ([flipped, number]) => {
    earlierSize.value = undefined;
    if (!flipped) return;
    // Its shape is not told by the revision's number: the picture of it says it.
    const image = new Image();
    image.src = addresses.framed(shot.shot!.id, still.value!, number, frames.otherChange, 320, true);
    await image.decode();
    if (frames.flipped) earlierSize.value = { width: image.naturalWidth, height: image.naturalHeight };
  },
);

onKey((event) => {
  switch (event.key) {
    case " ":
      clip.toggle();
      return true;
    case "ArrowLeft":
      clip.step(event.shiftKey ? -Math.round(clip.playback?.frames_per_second ?? 25) : -1);
      return true;
    case "ArrowRight":
      clip.step(event.shiftKey ? Math.round(clip.playback?.frames_per_second ?? 25) : 1);
      return true;
    case "b":
    case "B":
      frames.flipped = !frames.flipped;
      return true;
    case "z":
    case "Z":
      if (mode.value !== "frame") return false;
      frames.real = frames.real ? undefined : (under.value ?? { x: 0.5, y: 0.5 });
      return true;
    case "g":
    case "G":
      frames.guides = frames.guides.length ? [] : ["thirds"];
      return true;
    case "Escape":
      return frames.plain();
    default:
      return props.own.key?.(event) ?? false;
  }
});
</script>

<template>
  <ThreeFrames v-if="mode === 'three'" :width="width" />
  <div v-else-if="mode === 'pair'" class="whole"><TwoVersions :width="width / 2" /></div>
  <div
    v-else
    ref="box"
    class="box"
    :class="{ close: enlarged }"
    :style="boxSize"
    @pointermove="under = placeIn(box!, $event)"
    @pointerleave="under = undefined"
  >
    <TwoVersions v-if="mode === 'split'" :width="width" />
    <component :is="around" v-else-if="mode === 'around'" />
    <InStepVideo v-else-if="flips" :played="inStep" :shows="frames.flipped ? 'other' : 'now'" :share="0" />
    <FramedPicture
      v-else
      :style="enlarged"
      :address="address"
      :own="own"
      :grip="frames.flipped ? undefined : own.grip"
      :words="words"
      :aside="aside && !clip.playing"
      :overlay-mask="overlayMask"
      :over="over"
    />
    <span v-if="flag && mode === 'frame'" class="flag">{{ flag }}</span>
  </div>
</template>

<style scoped>
.box {
  position: relative;
}

.close {
  overflow: hidden;
}

.whole {
  height: 100%;
  width: 100%;
}

.flag {
  background: var(--saffron-pale);
  border-radius: var(--round);
  left: 0.6rem;
  padding: 0.1rem 0.5rem;
  position: absolute;
  top: 0.6rem;
}
</style>
