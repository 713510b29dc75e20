<script setup lang="ts">
import { useElementSize, useLocalStorage } from "@vueuse/core";
import { computed, ref } from "vue";

import { addresses } from "../api/client";
import { showsFrames, type Step } from "../screens/steps";
import { useShot } from "../stores/shot";
import { usePicture } from "./picture";

const props = defineProps<{ step: Step }>();

const shot = useShot();
const mats = ["white", "grey", "black"] as const;
const mat = useLocalStorage<(typeof mats)[number]>("mat", "grey");
const area = ref<HTMLElement>();
const { width } = useElementSize(area);

// Widths go up in steps, so that resizing the window a little does not fetch every picture again.
const wanted = computed(() => Math.min(2560, Math.ceil((width.value * window.devicePixelRatio) / 320) * 320 || 960));
const framed = computed(() => showsFrames(props.step));
const address = computed(() => {
  const still = shot.shownStill;
  if (!still || !shot.shot || !shot.decisions) return undefined;
  return framed.value
    ? addresses.framed(shot.shot.id, still, shot.revision, shot.tried, wanted.value)
    : addresses.still(shot.shot.id, still, wanted.value);
});
const isAside = computed(() => shot.shownStill !== undefined && shot.aside.has(shot.shownStill.id));
const clip = computed(() => (props.step === "encode" ? shot.played : undefined));
const { shown, refusal, waiting } = usePicture(address);
</script>

<template>
  <section class="stage" :class="mat" aria-label="Stage">
    <div ref="area" class="mat">
      <video
        v-if="clip"
        :key="clip.id"
        :src="addresses.clip(clip.id)"
        :aria-label="`The clip ${clip.name}`"
        controls
        loop
        playsinline
      ></video>
      <img v-else-if="shown" :src="shown.source" :class="{ aside: isAside }" :alt="framed ? `Still ${shot.shown + 1} as the clip shows it` : `Still ${shot.shown + 1}`" />
      <p v-if="refusal" class="sentence" role="alert">{{ refusal }}</p>
      <p v-else-if="!shot.count" class="sentence">The first still appears here as soon as it is read.</p>
    </div>
    <footer>
      <template v-if="clip">
        <span>{{ clip.name }}</span>
        <button class="plain-button back" type="button" @click="shot.played = undefined">back to the frames</button>
      </template>
      <span v-else-if="shot.shownStill" class="number">
        still {{ (shot.shown + 1).toLocaleString("en") }} of {{ shot.count.toLocaleString("en") }}
        <span class="name" :class="{ struck: isAside }">{{ shot.shownStill.name }}</span>
        <span v-if="isAside" class="look"> set aside</span>
      </span>
      <span v-if="framed && !clip && shown?.timecode" class="number" title="hours:minutes:seconds:frames; the last pair counts frames">
        {{ shown.timecode }}
      </span>
      <span v-if="waiting" class="quiet" aria-hidden="true">…</span>
      <span class="mats" role="group" aria-label="Colour around the picture">
        <button
          v-for="name in mats"
          :key="name"
          type="button"
          :class="['swatch', name, { chosen: mat === name }]"
          :aria-label="`${name} around the picture`"
          :aria-pressed="mat === name"
          @click="mat = name"
        ></button>
      </span>
    </footer>
  </section>
</template>

<style scoped>
.stage {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  min-width: 0;
}

.mat {
  align-items: center;
  display: flex;
  justify-content: center;
  min-height: 0;
  padding: 1.4rem;
}

.white .mat {
  background: #fff;
}

.grey .mat {
  background: #777;
}

.black .mat {
  background: #000;
}

img,
video {
  box-shadow: 0 0 0 1px rgb(0 0 0 / 0.25);
  display: block;
  max-height: 100%;
  max-width: 100%;
}

.sentence {
  background: var(--paper);
  border-radius: 3px;
  max-width: 32rem;
  padding: 0.7rem 1rem;
}

footer {
  align-items: center;
  border-top: 1px solid var(--hair);
  display: flex;
  gap: 1.2rem;
  height: 34px;
  padding: 0 1rem;
  white-space: nowrap;
}

.back {
  color: var(--line);
}

img.aside {
  filter: grayscale(0.7) opacity(0.55);
}

.struck {
  text-decoration: line-through;
}

.name {
  color: var(--soft-ink);
  margin-left: 0.6rem;
}

.mats {
  display: flex;
  gap: 0.35rem;
  margin-left: auto;
}

.swatch {
  border: 1px solid var(--soft-ink);
  border-radius: 50%;
  cursor: pointer;
  height: 16px;
  padding: 0;
  width: 16px;
}

.swatch.white {
  background: #fff;
}

.swatch.grey {
  background: #777;
}

.swatch.black {
  background: #000;
}

.swatch.chosen {
  outline: 2px solid var(--line);
  outline-offset: 2px;
}
</style>
