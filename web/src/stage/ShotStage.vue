<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { defineAsyncComponent, computed, ref } from "vue";

import { addresses } from "../api/client";
import { onKey } from "../keys/keys";
import ClipBar from "../playback/ClipBar.vue";
import FinishedClip from "../playback/FinishedClip.vue";
import FrameBar from "./framed/FrameBar.vue";
import FramedStage from "./framed/FramedStage.vue";
import MatChoice from "./MatChoice.vue";
import { useMat } from "./mat";
import { isStack, useViewModes } from "./viewModes";
import { useShot } from "../stores/shot";
import { useTogether } from "./together";
import ViewModeBar from "./ViewModeBar.vue";
import { widthFor } from "./picture";
import PutTogether from "./PutTogether.vue";
import StagePicture from "./StagePicture.vue";
import StillsBar from "./StillsBar.vue";
import type { StepStage } from "./stepStage";

const ClipsCompared = defineAsyncComponent(() => import("../playback/ClipsCompared.vue"));
const RealPixels = defineAsyncComponent(() => import("./RealPixels.vue"));
const AllStills = defineAsyncComponent(() => import("./AllStills.vue"));
const SeveralStills = defineAsyncComponent(() => import("./SeveralStills.vue"));

const props = defineProps<{ own: StepStage }>();

const shot = useShot();
const modes = useViewModes();
const putTogether = useTogether();
const mat = useMat();
const stage = ref<HTMLElement>();
const area = ref<HTMLElement>();
const picture = ref<InstanceType<typeof StagePicture>>();
const { width, height } = useElementSize(area);

const wanted = computed(() => widthFor(width.value));
const framed = computed(() => props.own.shows === "frames");
const checked = computed(() => props.own.shows === "shot");
const still = computed(() => shot.stills.stills[framed.value ? shot.shown : modes.position]);
const address = computed(() => {
  const one = still.value;
  const id = shot.shot?.id;
  if (!one || !id) return undefined;
  if (!checked.value) return addresses.still(id, one, wanted.value);
  if (isStack(modes.mode)) return modes.stackAddress(modes.mode);
  if (modes.mode === "difference") return addresses.difference(id, one, wanted.value);
  if (modes.mode === "clipped") return addresses.clipped(id, one, wanted.value);
  return modes.usedAddress(one, wanted.value);
});
const tool = computed(() => (framed.value ? undefined : props.own.tool?.()));
/** Whether the stage shows what many stills have in common. */
const together = computed(() => checked.value && isStack(modes.mode));
const isAside = computed(() => still.value !== undefined && shot.out.has(still.value.id) && !together.value);
const treated = computed(() =>
  (checked.value || framed.value) && still.value ? shot.mended.get(still.value.id) : undefined,
);
const note = computed(() => still.value && shot.notes.get(still.value.id));
const clip = computed(() => (props.own.clips ? shot.played : undefined));
const compared = computed(() => (props.own.clips ? shot.compared : undefined));
/** All stills as a sheet: where they are put in order, and where they are checked. */
const all = computed(() => !framed.value && modes.mode === "all");
const several = computed(() => checked.value && (modes.mode === "beside" || modes.mode === "three"));
const stretchWords = computed(() => {
  const { first, last } = modes.stretch;
  return `stills ${(first + 1).toLocaleString("en")} to ${(last + 1).toLocaleString("en")} together`;
});

function fullScreen(): void {
  if (document.fullscreenElement) void document.exitFullscreen();
  else void stage.value?.requestFullscreen();
}

onKey((event) => {
  if (event.key.toLowerCase() === "f") {
    fullScreen();
    return true;
  }
  if (framed.value) return false;
  switch (event.key.toLowerCase()) {
    case "z":
      modes.toggleSpot();
      return true;
    case "b":
      modes.toggleBlink();
      return true;
    case "escape":
      return modes.plain();
    default:
      return false;
  }
});
</script>

<template>
  <section ref="stage" class="stage" :class="mat" aria-label="Stage">
    <ViewModeBar v-if="checked" @full="fullScreen" />
    <StillsBar v-else-if="!framed && shot.count" />
    <FrameBar v-else-if="framed && !clip && !compared && shot.count" :own="own" @full="fullScreen" />
    <div ref="area" class="mat" :class="{ close: all || (modes.spot && !framed) }">
      <ClipsCompared
        v-if="compared"
        :key="`${compared[0].id}-${compared[1].id}`"
        :clips="compared"
        @close="shot.compared = shot.played = undefined"
      />
      <FinishedClip v-else-if="clip" :clip="clip" />
      <component :is="tool" v-else-if="tool && still" :address="address" />
      <RealPixels v-else-if="modes.spot && !framed" />
      <SeveralStills v-else-if="several" :width="width" />
      <AllStills v-else-if="all && shot.count" />
      <p v-else-if="!shot.count" class="sentence">The first still appears here as soon as it is read.</p>
      <FramedStage v-else-if="framed" :own="own" :width="width" :height="height" />
      <PutTogether v-else-if="together && !putTogether.isReady" />
      <StagePicture
        v-else
        :key="together ? modes.mode : 'still'"
        ref="picture"
        :address="address"
        :aside="isAside"
        :words="together ? `${modes.mode} of ${stretchWords}` : `Still ${modes.position + 1}`"
        @over="(x, y) => (modes.under = together ? undefined : { x, y })"
        @away="modes.under = undefined"
      />
    </div>
    <div v-if="framed && !clip && !compared && shot.count" class="clip"><ClipBar /></div>
    <footer>
      <template v-if="compared"></template>
      <template v-else-if="clip">
        <span>{{ clip.name }}</span>
        <button class="plain-button back" type="button" @click="shot.played = undefined">back to the frames</button>
      </template>
      <span v-else-if="together" class="number">{{ modes.mode }}: {{ stretchWords }}</span>
      <span v-else-if="still" class="number">
        still {{ (still.position + 1).toLocaleString("en") }} of {{ shot.count.toLocaleString("en") }}
        <span class="name" :class="{ struck: isAside }">{{ still.name }}</span>
        <span v-if="isAside" class="warning apart">{{
          still.away ? "file away: not in the clip until it is back" : "set aside"
        }}</span>
        <span v-else-if="treated" class="warning"> {{ treated }}</span>
        <span v-if="modes.spot && !framed" class="quiet"> real pixels</span>
      </span>
      <span v-if="note && !clip" class="note" :title="note">“{{ note }}”</span>
      <span v-if="picture?.waiting" class="quiet" aria-hidden="true">…</span>
      <MatChoice />
    </footer>
  </section>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.stage:has(.view-modes) {
  grid-template-rows: auto minmax(0, 1fr) auto auto;
}

.stage:fullscreen {
  background: var(--paper);
}

.mat.close {
  padding: 0;
}

.back {
  color: var(--line);
}

.struck {
  text-decoration: line-through;
}

.name {
  color: var(--soft-ink);
  margin-left: 0.6rem;
}

.note {
  font-style: italic;
  overflow: hidden;
  text-overflow: ellipsis;
}

.apart {
  margin-left: 0.5rem;
}
</style>
