<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from "vue";

import { addresses, type Clip } from "../api/client";
import { perSecond } from "../parts/choices";
import { Pairing, partnerOf, type Pair } from "./pairing";

/** Two finished files playing: the browser plays each, and what is shown is drawn of frames that belong together. */
const props = defineProps<{ clips: [Clip, Clip]; from: number; shows: "split" | "first" | "second"; share: number }>();
const emit = defineEmits<{ frame: [frame: number] }>();

/** So wide at most are pictures that wait for their partners. */
const widest = 960;
const waiting = 8;

const videos = ref<HTMLVideoElement[]>([]);
const canvas = ref<HTMLCanvasElement>();
/** Which are shown by a stand-in: those this browser does not play itself. */
const standIns = ref(
  props.clips.map((clip) => !clip.plays_as || !document.createElement("video").canPlayType(clip.plays_as)),
);
const rates = computed(() => props.clips.map((clip) => perSecond(clip.rate ?? "25")));
/** By how much faster the second passes by. */
const faster = computed(() => {
  const [first, second] = props.clips.map((clip, side) => clip.frames / rates.value[side]!) as [number, number];
  return second / first;
});
const pairing = new Pairing<HTMLCanvasElement>(props.clips[0].frames, props.clips[1].frames, waiting);
const papers: [HTMLCanvasElement[], HTMLCanvasElement[]] = [[], []];
const newest: [number, number] = [0, 0];
let shown: Pair<HTMLCanvasElement> | undefined;
let isOver = false;

onMounted(() => videos.value.forEach((video, side) => begin(video, side as 0 | 1)));
onBeforeUnmount(() => (isOver = true));

function begin(video: HTMLVideoElement, side: 0 | 1): void {
  const frame = side ? partnerOf(props.from, props.clips[0].frames, props.clips[1].frames) : props.from;
  video.currentTime = (frame + 0.5) / rates.value[side]!;
  video.playbackRate = side ? faster.value : 1;
  follow(video, side);
  void video.play().catch(() => undefined);
}

/** One that this browser does not play after all is shown by a stand-in, which is another element. */
async function standIn(side: number): Promise<void> {
  if (standIns.value[side]) return;
  standIns.value[side] = true;
  await nextTick();
  begin(videos.value[side]!, side as 0 | 1);
}

function follow(video: HTMLVideoElement, side: 0 | 1): void {
  video.requestVideoFrameCallback((_, { mediaTime }) => {
    if (isOver) return;
    const frame = Math.min(props.clips[side].frames - 1, Math.max(0, Math.round(mediaTime * rates.value[side]!)));
    newest[side] = frame;
    const pair = pairing.take(side, frame, copied(video, side, frame));
    if (pair) {
      shown = pair;
      draw();
      emit("frame", pair.frame);
    }
    keepUp();
    follow(video, side);
  });
}

/** A browser forgets a frame as it shows the next; so each is kept until its partner is there. */
function copied(video: HTMLVideoElement, side: 0 | 1, frame: number): HTMLCanvasElement {
  const place = frame % (2 * waiting);
  const paper = (papers[side][place] ??= document.createElement("canvas"));
  const scale = Math.min(1, widest / video.videoWidth);
  [paper.width, paper.height] = [Math.round(video.videoWidth * scale), Math.round(video.videoHeight * scale)];
  paper.getContext("2d")!.drawImage(video, 0, 0, paper.width, paper.height);
  return paper;
}

/** The second goes after the first: a little faster or slower, and at once where they are far apart. */
function keepUp(): void {
  const [, second] = videos.value;
  const ahead = pairing.ahead(...newest);
  if (!second) return;
  if (Math.abs(ahead) > rates.value[0]!) {
    const frame = partnerOf(newest[0], props.clips[0].frames, props.clips[1].frames);
    second.currentTime = (frame + 0.5) / rates.value[1]!;
    newest[1] = frame;
  }
  const nudged = Math.abs(ahead) < 0.75 ? 0 : Math.max(-0.3, Math.min(0.3, ahead * 0.05));
  second.playbackRate = faster.value * (1 + nudged);
}

/** At the end of the first both begin again. */
function again(): void {
  pairing.clear();
  videos.value.forEach((video) => {
    video.currentTime = 0;
    void video.play().catch(() => undefined);
  });
}

function draw(): void {
  const [to, pair] = [canvas.value, shown];
  const paper = to?.getContext("2d");
  if (!to || !paper || !pair) return;
  const { width, height } = pair.first;
  if (to.width !== width || to.height !== height) [to.width, to.height] = [width, height];
  paper.drawImage(pair.first, 0, 0);
  if (props.shows === "first") return;
  const left = props.shows === "second" ? 0 : Math.round(width * props.share);
  const scale = Math.min(width / pair.second.width, height / pair.second.height);
  const [wide, high] = [pair.second.width * scale, pair.second.height * scale];
  paper.save();
  paper.beginPath();
  paper.rect(left, 0, width - left, height);
  paper.clip();
  paper.clearRect(left, 0, width - left, height);
  paper.drawImage(pair.second, (width - wide) / 2, (height - high) / 2, wide, high);
  paper.restore();
}

watch(() => [props.shows, props.share], draw);
</script>

<template>
  <div class="files">
    <video
      v-for="(clip, side) in clips"
      ref="videos"
      :key="`${clip.id} ${standIns[side]}`"
      :src="standIns[side] ? addresses.standIn(clip.id) : addresses.clip(clip.id)"
      muted
      playsinline
      aria-hidden="true"
      @ended="side ? undefined : again()"
      @error="standIn(side)"
    ></video>
    <canvas ref="canvas" role="img" aria-label="Two finished files, playing in step"></canvas>
  </div>
</template>

<style scoped>
.files {
  display: grid;
  height: 100%;
  inset: 0;
  position: absolute;
  width: 100%;
}
</style>

<style scoped src="./drawn.css"></style>
