<script setup lang="ts">
import { computed, ref, watch } from "vue";

import { addresses, type Clip } from "../api/client";
import { perSecond } from "../parts/choices";

const props = defineProps<{ clip: Clip }>();

const isPicture = computed(() => props.clip.plays_as.startsWith("image/"));
/** Whether this browser plays the file itself; else it is shown by a stand-in, which is said to be one. */
const plays = computed(
  () =>
    isPicture.value ||
    (props.clip.plays_as !== "" && document.createElement("video").canPlayType(props.clip.plays_as) !== ""),
);
const failed = ref(false);
const isStandIn = computed(() => !plays.value || failed.value);
const rate = computed(() => perSecond(props.clip.rate ?? "25"));
const frame = ref<number>();
const isReady = ref(false);

watch(
  () => props.clip.id,
  () => {
    failed.value = isReady.value = false;
    frame.value = undefined;
  },
);

/** The frame that is seen, as it is in the file and not as a browser shows a moving picture. */
function rest(event: Event): void {
  const video = event.target as HTMLVideoElement;
  if (!video.ended && video.currentTime > 0)
    frame.value = Math.min(props.clip.frames - 1, Math.floor(video.currentTime * rate.value + 0.01));
}
</script>

<template>
  <div class="finished">
    <img v-if="isPicture" :src="addresses.clip(clip.id)" :alt="`The loop ${clip.name}`" />
    <video
      v-else
      :key="`${clip.id}-${isStandIn}`"
      :src="isStandIn ? addresses.standIn(clip.id) : addresses.clip(clip.id)"
      :aria-label="`The clip ${clip.name}`"
      controls
      loop
      playsinline
      @loadeddata="isReady = true"
      @play="frame = undefined"
      @seeking="frame = undefined"
      @pause="rest"
      @error="failed = true"
    ></video>
    <img
      v-if="frame !== undefined"
      class="still"
      :src="addresses.clipFrame(clip.id, frame)"
      :alt="`Frame ${frame + 1} of ${clip.name}, as it is in the file`"
    />
    <p v-if="isStandIn && !isPicture" class="note" role="status">
      {{
        isReady
          ? "A small stand-in: this browser does not play the file itself."
          : "A stand-in is being made: this browser does not play the file itself …"
      }}
      <span v-if="frame !== undefined"
        >Frame {{ (frame + 1).toLocaleString("en") }} is shown as it is in the file.</span
      >
    </p>
  </div>
</template>

<style scoped>
.finished {
  align-items: center;
  display: grid;
  height: 100%;
  justify-items: center;
  min-height: 0;
  min-width: 0;
  position: relative;
  width: 100%;
}

video,
img {
  box-shadow: 0 0 0 1px var(--picture-edge);
  display: block;
  grid-area: 1 / 1;
  max-height: 100%;
  max-width: 100%;
  min-height: 0;
}

video {
  width: 100%;
}

.still {
  pointer-events: none;
}

.note {
  align-self: start;
  background: var(--paper);
  border-radius: var(--round);
  color: var(--ink);
  grid-area: 1 / 1;
  margin: 0.6rem;
  padding: 0.2rem 0.6rem;
}
</style>
