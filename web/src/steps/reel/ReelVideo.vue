<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref, watch } from "vue";

import type { ReelPlayback } from "../../api/client";
import { Player } from "../../playback/player";
import { useReel } from "./reel";

const reel = useReel();
const video = ref<HTMLVideoElement>();
let player: Player<ReelPlayback> | undefined;

onMounted(() => {
  player = new Player<ReelPlayback>(video.value!, {
    shown(frame) {
      if (reel.playing) reel.frame = frame;
    },
    began: () => (reel.moving = reel.playing),
    waiting: (waits) => (reel.waiting = waits && reel.playing),
    failed(sentence) {
      reel.pause();
      reel.refuse(sentence);
    },
    outdated: () => void reel.planAnew(),
  });
  begin();
});
onBeforeUnmount(() => player?.close());

function begin(): void {
  if (reel.playback && reel.playing) player?.play(reel.playback, reel.frame);
}

watch(() => reel.begun, begin);
watch(
  () => reel.playing,
  (plays) => !plays && video.value?.pause(),
);
</script>

<template>
  <video ref="video" playsinline aria-label="The reel, playing"></video>
</template>

<style scoped src="../../playback/video.css"></style>
