<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from "vue";

import type { InStep } from "../api/client";
import { useClip } from "./clip";
import { Player } from "./player";

/**
 * Two settings of a clip, played in step: they come as one picture, the one that is decided now at its left, so that
 * neither is ever a frame ahead. Shown beside each other, parted at a line, or one of them.
 */
const props = defineProps<{ played: InStep | undefined; shows: "pair" | "split" | "other" | "now"; share: number }>();

/** Pixels between two that are beside each other. */
const gap = 16;

const clip = useClip();
const video = ref<HTMLVideoElement>();
const canvas = ref<HTMLCanvasElement>();
let player: Player<InStep> | undefined;
let drawn: InStep | undefined;

onMounted(() => {
  player = new Player(video.value!, {
    shown(frame, played) {
      drawn = played;
      draw();
      if (!clip.playing || !clip.playback) return;
      clip.look({ frame: Math.min(frame, clip.playback.frames - 1), playback: clip.playback });
      clip.tally = { ...player!.tally };
    },
    ...clip.heard,
    outdated: () => clip.pause(),
  });
  begin();
});
onBeforeUnmount(() => player?.close());

function begin(): void {
  if (!props.played || !player || !clip.playing) return;
  player.tally.shown = player.tally.dropped = 0;
  player.play(props.played, Math.min(clip.frame, props.played.frames - 1));
}

/** The earlier one lies at the left on the screen, as it does where they stand still. */
function draw(): void {
  const [from, to, played] = [video.value, canvas.value, drawn];
  const paper = to?.getContext("2d");
  if (!from || !to || !paper || !played) return;
  const [edge, high] = [Math.round(played.width * played.edge), played.height];
  const other = played.width - edge;
  const size = { pair: [other + gap + edge, high], split: [edge, high], other: [other, high], now: [edge, high] }[
    props.shows
  ];
  if (to.width !== size[0] || to.height !== size[1]) [to.width, to.height] = size as [number, number];
  if (props.shows === "pair") {
    paper.drawImage(from, edge, 0, other, high, 0, 0, other, high);
    paper.drawImage(from, 0, 0, edge, high, other + gap, 0, edge, high);
  } else if (props.shows === "other") paper.drawImage(from, edge, 0, other, high, 0, 0, other, high);
  else {
    paper.drawImage(from, 0, 0, edge, high, 0, 0, edge, high);
    if (props.shows === "split") drawPart(paper, from, edge, other, high);
  }
}

/** The other one at the left of the line, whole within the frame of the first where it has another shape. */
function drawPart(paper: CanvasRenderingContext2D, from: HTMLVideoElement, edge: number, other: number, high: number) {
  const scale = Math.min(1, edge / other);
  const [wide, tall] = [other * scale, high * scale];
  paper.save();
  paper.beginPath();
  paper.rect(0, 0, Math.round(edge * props.share), high);
  paper.clip();
  paper.clearRect(0, 0, edge, high);
  paper.drawImage(from, edge, 0, other, high, (edge - wide) / 2, (high - tall) / 2, wide, tall);
  paper.restore();
}

watch(
  () => props.played,
  // Asked for again, the same is the same: it plays on.
  (now, before) => JSON.stringify(now?.segments) !== JSON.stringify(before?.segments) && begin(),
);
watch(() => clip.begun, begin);
watch(
  () => clip.playing,
  (plays) => (plays ? begin() : video.value?.pause()),
);
// What is shown of it changes at once, also while no new frame comes.
watch(() => [props.shows, props.share], draw);
</script>

<template>
  <div class="in-step">
    <video ref="video" muted playsinline aria-hidden="true"></video>
    <canvas ref="canvas" role="img" aria-label="Two settings, playing in step"></canvas>
  </div>
</template>

<style scoped>
.in-step {
  display: grid;
  height: 100%;
  min-height: 0;
  position: relative;
  width: 100%;
}
</style>

<style scoped src="./drawn.css"></style>
