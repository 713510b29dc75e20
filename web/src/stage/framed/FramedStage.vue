<script setup lang="ts">
import { refDebounced } from "@vueuse/core";
import { computed, onBeforeUnmount, onMounted, ref, watch } from "vue";

import { addresses } from "../../api/client";
import { onKey } from "../../keys/keys";
import type { Step } from "../../steps/steps";
import { useClip } from "../../playback/clip";
import { useFrames } from "../frames";
import { useLight } from "../../steps/light/light";
import { useShot } from "../../stores/shot";
import { widthFor } from "../picture";
import AroundFrame from "./AroundFrame.vue";
import FramedPicture from "./FramedPicture.vue";
import ThreeFrames from "./ThreeFrames.vue";
import TwoVersions from "./TwoVersions.vue";

const props = defineProps<{ step: Step; width: number; height: number }>();

const shot = useShot();
const clip = useClip();
const frames = useFrames();
const light = useLight();
const fitting = computed(() => props.step === "fit");
const wanted = computed(() => widthFor(props.width));
const still = computed(() => shot.shownStill);
const mode = computed(() => (clip.playing || (frames.mode === "around" && !fitting.value) ? "frame" : frames.mode));
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
const box = computed(() => {
  const width = Math.min(props.width, props.height * shape.value);
  return { width: `${Math.floor(width)}px`, height: `${Math.floor(width / shape.value)}px` };
});
const words = computed(() => (frames.flipped ? `Still ${shot.shown + 1} as revision ${frames.other} shows it` : `Still ${shot.shown + 1} as the clip shows it`));
const aside = computed(() => still.value !== undefined && shot.out.has(still.value.id));

function addressOf(quickly: boolean): string | undefined {
  const id = shot.shot?.id;
  if (!id || !still.value) return undefined;
  if (light.without && props.step === "light") return addresses.framed(id, still.value, shot.revision, { ...shot.tried, light: {} }, wanted.value, quickly);
  if (frames.flipped) return addresses.framed(id, still.value, frames.other, {}, wanted.value, quickly);
  const place = clip.at;
  if (place && shot.peeked === undefined && place.plan === clip.plan)
    return addresses.frame(id, place.frame, shot.revision, shot.tried, wanted.value, quickly);
  return addresses.framed(id, still.value, shot.revision, shot.tried, wanted.value, quickly);
}

onMounted(() => (clip.wanted = true));
onBeforeUnmount(() => {
  clip.wanted = false;
  clip.pause();
});
watch(
  () => props.step,
  () => frames.show("frame"),
);
watch(
  () => [frames.flipped, frames.other] as const,
  async ([flipped, number]) => {
    earlierSize.value = undefined;
    if (!flipped) return;
    // Its shape is not told by the revision's number: the picture of it says it.
    const image = new Image();
    image.src = addresses.framed(shot.shot!.id, still.value!, number, {}, 320, true);
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
      clip.step(event.shiftKey ? -Math.round(clip.plan?.frames_per_second ?? 25) : -1);
      return true;
    case "ArrowRight":
      clip.step(event.shiftKey ? Math.round(clip.plan?.frames_per_second ?? 25) : 1);
      return true;
    case "b":
    case "B":
      frames.flipped = !frames.flipped;
      return true;
    case "l":
    case "L":
      if (props.step !== "light") return false;
      light.without = !light.without;
      return true;
    case "g":
    case "G":
      frames.guides = frames.guides.length ? [] : ["thirds"];
      return true;
    case "Escape":
      return frames.plain();
    default:
      return false;
  }
});
</script>

<template>
  <ThreeFrames v-if="mode === 'three'" :width="width" />
  <div v-else-if="mode === 'pair'" class="whole"><TwoVersions :width="width / 2" /></div>
  <div v-else class="box" :style="box">
    <TwoVersions v-if="mode === 'split'" :width="width" />
    <AroundFrame v-else-if="mode === 'around'" />
    <FramedPicture v-else :address="address" :movable="fitting && !frames.flipped" :words="words" :aside="aside && !clip.playing" />
    <span v-if="light.without && step === 'light' && mode === 'frame'" class="flag">as it was shot</span>
    <span v-else-if="frames.flipped && mode === 'frame'" class="flag">revision {{ frames.other }}</span>
  </div>
</template>

<style scoped>
.box {
  position: relative;
}

.whole {
  height: 100%;
  width: 100%;
}

.flag {
  background: var(--saffron-pale);
  border-radius: 3px;
  left: 0.6rem;
  padding: 0.1rem 0.5rem;
  position: absolute;
  top: 0.6rem;
}
</style>
