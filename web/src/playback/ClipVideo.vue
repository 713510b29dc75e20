<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from "vue";

import { useClip } from "./clip";
import type { Playback } from "../api/client";
import { Player } from "./player";

const clip = useClip();
const video = ref<HTMLVideoElement>();
let player: Player<Playback> | undefined;

onMounted(() => {
  player = new Player(video.value!, {
    shown(frame, playback) {
      if (!clip.playing) return;
      clip.look({ frame, playback });
      clip.tally = { ...player!.tally };
    },
    ...clip.heard,
    outdated() {
      clip.playback = undefined;
      void clip.planAnew();
    },
  });
  if (clip.playing) begin();
});
onBeforeUnmount(() => player?.close());

function begin(): void {
  if (!clip.playback || !player) return;
  player.tally.shown = player.tally.dropped = 0;
  player.play(clip.playback, clip.frame);
}

watch(
  () => clip.begun,
  () => clip.playing && begin(),
);
watch(
  () => clip.playing,
  (plays) => !plays && video.value?.pause(),
);
</script>

<template>
  <video ref="video" muted playsinline aria-label="The clip, playing"></video>
</template>

<style scoped src="./video.css"></style>
