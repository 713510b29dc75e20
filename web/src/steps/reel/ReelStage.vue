<script setup lang="ts">
import { refDebounced, useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { addresses } from "../../api/client";
import ClipsCompared from "../../playback/ClipsCompared.vue";
import FinishedClip from "../../playback/FinishedClip.vue";
import MatChoice from "../../stage/MatChoice.vue";
import { useMat } from "../../stage/mat";
import { usePicture, widthFor } from "../../stage/picture";
import AreasOver from "./AreasOver.vue";
import ReelVideo from "./ReelVideo.vue";
import TitlesOver from "./TitlesOver.vue";
import { useReel } from "./reel";
import { useScrub } from "./scrub";
import type { Tab } from "./tabs";

const props = defineProps<{ tab: Tab }>();

const reel = useReel();
const mat = useMat();
const area = ref<HTMLElement>();
const { width, height } = useElementSize(area);

const shape = computed(() => {
  const { width: wide, height: high } = reel.decisions!.size;
  return wide / high;
});
const boxSize = computed(() => {
  const wide = Math.min(width.value, height.value * shape.value);
  return { width: `${Math.floor(wide)}px`, height: `${Math.floor(wide / shape.value)}px` };
});
const wanted = computed(() => widthFor(Math.min(width.value, height.value * shape.value)));
const quick = computed(() => addressOf(true));
const full = computed(() => addressOf(false));
const settled = refDebounced(full, 250);
const address = computed<string | undefined>((before) =>
  reel.playing ? before : settled.value === full.value ? full.value : quick.value,
);
const { shown, refusal, waiting } = usePicture(address);

function addressOf(quickly: boolean): string | undefined {
  if (!reel.reel || !reel.frames) return undefined;
  return addresses.reelFrame(reel.reel.id, reel.frame, reel.revision, reel.tried, wanted.value, quickly);
}

const seconds = computed(() => reel.playback?.seconds.length ?? 0);
/** The part whose pictures are put where one wants them, while it is worked on and seen. */
const free = computed(() => {
  if (props.tab !== "order" || reel.playing) return undefined;
  const span = reel.parts.find((one) => one.id === reel.part);
  const isSeen = span && reel.frame >= span.start && reel.frame < span.start + span.frames;
  return isSeen ? reel.decisions!.parts.find((one) => one.id === reel.part && one.arrangement === "free") : undefined;
});
const bar = ref<HTMLElement>();
const scrub = useScrub(bar, "x");
</script>

<template>
  <section class="stage" :class="mat" aria-label="Stage">
    <div ref="area" class="mat">
      <ClipsCompared
        v-if="reel.compared && tab === 'finish'"
        :key="`${reel.compared[0].id}-${reel.compared[1].id}`"
        :clips="reel.compared"
        @close="reel.compared = reel.played = undefined"
      />
      <FinishedClip v-else-if="reel.played && tab === 'finish'" :clip="reel.played" />
      <p v-else-if="!reel.decisions!.parts.length" class="sentence">
        Put a shot into the running order, and the reel appears here.
      </p>
      <p v-else-if="reel.playback && !reel.frames" class="sentence">
        None of the shots in this reel can be shown. The sheet says why.
      </p>
      <div v-else class="box" :style="boxSize">
        <img v-if="shown" :src="shown.source" :alt="`Frame ${reel.frame + 1} of the reel`" draggable="false" />
        <ReelVideo v-if="reel.playing" v-show="reel.moving" />
        <AreasOver v-if="free" :part="free" />
        <TitlesOver v-if="tab === 'titles' && !reel.playing && reel.frames" />
      </div>
    </div>
    <div
      ref="bar"
      class="bar"
      role="slider"
      tabindex="0"
      aria-label="Frame of the reel"
      :aria-valuemin="1"
      :aria-valuemax="Math.max(1, reel.frames)"
      :aria-valuenow="reel.frame + 1"
      :aria-valuetext="reel.timecode"
      v-on="scrub"
    >
      <span
        v-for="part in reel.parts.filter((one) => one.frames)"
        :key="part.id"
        class="border"
        :style="{ left: `${(100 * part.start) / reel.frames}%` }"
      ></span>
      <span class="gone" :style="{ width: `${reel.frames ? (100 * (reel.frame + 1)) / reel.frames : 0}%` }"></span>
    </div>
    <footer>
      <button type="button" class="plain-button act play" :disabled="!reel.frames" @click="reel.toggle()">
        {{ reel.playing ? "pause" : "play" }}
      </button>
      <span class="number">{{ reel.timecode }}</span>
      <span class="number quiet"
        >frame {{ (reel.frame + 1).toLocaleString("en") }} of {{ reel.frames.toLocaleString("en") }}</span
      >
      <button
        v-if="reel.played && !reel.compared && tab === 'finish'"
        type="button"
        class="plain-button act"
        @click="reel.played = undefined"
      >
        back to the frames
      </button>
      <span v-if="reel.waiting || waiting" class="quiet" aria-hidden="true">…</span>
      <span v-if="reel.playback && !reel.playback.loudness_known" class="quiet" role="status"
        >loudness is being measured …</span
      >
      <span v-if="refusal" class="warning" role="alert">{{ refusal }}</span>
      <span class="for-listening">{{ seconds }} seconds</span>
      <MatChoice />
    </footer>
  </section>
</template>

<style scoped src="../../stage/stage.css"></style>
<style scoped src="./stage.css"></style>
