<script setup lang="ts">
import { useDebounceFn } from "@vueuse/core";
import { computed, ref } from "vue";

import { api } from "../../api/client";
import { useClip } from "../../playback/clip";
import { useFrames } from "../frames";
import { useShot } from "../../stores/shot";
import { useSentences } from "../../parts/sentences";
import AreaTool from "../../steps/light/AreaTool.vue";
import BandTool from "../../steps/move/BandTool.vue";
import RegionTool from "../../steps/light/RegionTool.vue";
import { useAreas } from "../../steps/light/areas";
import { useLight } from "../../steps/light/light";
import { placeIn, usePicture } from "../picture";
import ClipVideo from "../../playback/ClipVideo.vue";
import FrameGuides from "./FrameGuides.vue";
import { closer, moved } from "./framing";

const props = defineProps<{ address: string | undefined; movable: boolean; words: string; aside: boolean; veil?: string; over?: "areas" | "region" | "band" }>();

const shot = useShot();
const clip = useClip();
const frames = useFrames();
const light = useLight();
const areas = useAreas();
const { said, refused } = useSentences();
const box = ref<HTMLElement>();
const { shown, refusal, waiting } = usePicture(computed(() => props.address));
const { shown: veiled } = usePicture(computed(() => (clip.playing ? undefined : props.veil)));
const fit = computed(() => shot.decisions!.fit);
const line = ref<{ from: { x: number; y: number }; to: { x: number; y: number } }>();
/** The video goes away once the picture of the frame it stopped at is there. */
const moving = computed(() => {
  if (clip.playing) return clip.moving;
  return clip.stopped !== undefined && clip.at === clip.stopped && shown.value?.address !== props.address;
});

const keepSoon = useDebounceFn(() => void shot.settle(), 500);
let dragged: { x: number; y: number; fit: typeof fit.value } | undefined;

function press(event: PointerEvent): void {
  if (event.button === 0 && frames.drawing === "grey") void makeGrey(event);
  if (event.button === 0 && frames.drawing === "hue") void limitToHue(event);
  if (event.button !== 0 || !props.movable) return;
  box.value!.setPointerCapture(event.pointerId);
  const at = placeIn(box.value!, event);
  if (frames.drawing === "level") line.value = { from: at, to: at };
  else dragged = { ...at, fit: fit.value };
}

function move(event: PointerEvent): void {
  const at = placeIn(box.value!, event);
  if (line.value) line.value = { from: line.value.from, to: at };
  else if (dragged && shot.brief?.seen) {
    const by = { right: (at.x - dragged.x) * fit.value.size.width, down: (at.y - dragged.y) * fit.value.size.height };
    shot.tryOut({ fit: moved(dragged.fit, shot.brief.seen, by) });
  }
}

async function release(): Promise<void> {
  const drawn = line.value;
  line.value = undefined;
  if (drawn) await level(drawn);
  else if (dragged && dragged.fit !== fit.value) await shot.settle();
  dragged = undefined;
}

/** Balance colours so that what was clicked on is grey. */
async function makeGrey(event: PointerEvent): Promise<void> {
  const { x, y } = placeIn(box.value!, event);
  frames.drawing = undefined;
  try {
    const found = await api.neutral(shot.shot!.id, shot.shownStill!.position, x, y, shot.revision, shot.tried);
    await light.setValues({ warmth: found.warmth, tint: found.tint });
    if (!found.reached) said("This spot is too strong a colour to be made grey; it was brought as near as it goes.");
  } catch (error) {
    refused(error);
  }
}

/** Let the area that is worked on have only colours like the one that was clicked on. */
async function limitToHue(event: PointerEvent): Promise<void> {
  const { x, y } = placeIn(box.value!, event);
  frames.drawing = undefined;
  try {
    const { hue } = await api.hue(shot.shot!.id, shot.shownStill!.position, x, y, shot.revision, shot.tried);
    await areas.setMask({ hue: { hue, width: 40 } });
  } catch (error) {
    refused(error);
  }
}

async function level({ from, to }: NonNullable<typeof line.value>): Promise<void> {
  const { width, height } = fit.value.size;
  const ends: [number, number, number, number] = [from.x * width, from.y * height, to.x * width, to.y * height];
  if (Math.hypot(ends[2] - ends[0], ends[3] - ends[1]) < 20) return;
  frames.drawing = undefined;
  const answer = await api.level(shot.shot!.id, ends, fit.value);
  await shot.decide({ fit: { level: answer.level } });
}

function wheel(event: WheelEvent): void {
  if (!props.movable || !shot.brief?.seen || shot.fitOfBrief !== fit.value) return;
  const at = placeIn(box.value!, event);
  shot.tryOut({ fit: closer(fit.value, shot.brief.seen, Math.exp(-event.deltaY * 0.0012), at) });
  void keepSoon();
}

const arrows: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

function nudge(event: KeyboardEvent): void {
  if (event.key === "Escape") box.value?.blur();
  const arrow = arrows[event.key];
  if (!arrow || !props.movable || !shot.brief?.seen || event.ctrlKey || event.metaKey || event.altKey) return;
  event.preventDefault();
  event.stopPropagation();
  const pixels = event.shiftKey ? 10 : 1;
  shot.tryOut({ fit: moved(fit.value, shot.brief.seen, { right: arrow[0] * pixels, down: arrow[1] * pixels }) });
  void keepSoon();
}

defineExpose({ waiting });
</script>

<template>
  <p v-if="refusal && !clip.playing" class="sentence" role="alert">{{ refusal }}</p>
  <div
    v-else
    ref="box"
    class="frame-box"
    :class="{ movable, drawing: frames.drawing === 'level' || frames.drawing === 'grey' || frames.drawing === 'hue' }"
    :tabindex="movable ? 0 : undefined"
    :role="movable ? 'group' : undefined"
    :aria-label="movable ? 'The picture in its frame: drag it, turn the wheel to come closer, arrow keys move it by a pixel' : undefined"
    @pointerdown="press"
    @pointermove="move"
    @pointerup="release"
    @pointercancel="release"
    @wheel.prevent="wheel"
    @keydown="nudge"
  >
    <img v-if="shown" :src="shown.source" :class="{ aside }" :alt="words" draggable="false" />
    <p v-else-if="waiting" class="sentence" role="status">Being made …</p>
    <img v-if="veiled && veil && !clip.playing" class="veil" :src="veiled.source" alt="" draggable="false" />
    <ClipVideo :class="{ unseen: !moving }" />
    <AreaTool v-if="props.over === 'areas' && !clip.playing" />
    <RegionTool v-if="props.over === 'region' && !clip.playing" />
    <BandTool v-if="props.over === 'band' && !clip.playing" />
    <FrameGuides v-if="movable || frames.guides.length" />
    <svg v-if="line" class="line" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
      <line v-for="shade in ['dark', 'light']" :key="shade" :class="shade" :x1="line.from.x" :y1="line.from.y" :x2="line.to.x" :y2="line.to.y" />
    </svg>
  </div>
</template>

<style scoped>
.frame-box {
  box-shadow: 0 0 0 1px rgb(0 0 0 / 0.25);
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

.frame-box > .veil {
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
  stroke: rgb(0 0 0 / 0.6);
  stroke-width: 4;
}

.line .light {
  stroke: #fff;
  stroke-width: 1.6;
}

.sentence {
  background: var(--paper);
  border-radius: 3px;
  max-width: 32rem;
  padding: 0.7rem 1rem;
}
</style>
