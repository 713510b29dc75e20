<script setup lang="ts">
import Button from "primevue/button";
import { computed, onBeforeUnmount, watch } from "vue";
import { useRouter } from "vue-router";

import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import AreasSection from "./AreasSection.vue";
import ColourSection from "./ColourSection.vue";
import EvenSection from "./EvenSection.vue";
import { sections, useLight } from "./light";
import LooksSection from "./LooksSection.vue";
import SurfaceSection from "./SurfaceSection.vue";
import ToneSection from "./ToneSection.vue";

const shot = useShot();
const light = useLight();
const frames = useFrames();
const router = useRouter();
/** These work on the whole picture, or on an area of it. */
const isGrade = computed(
  () => light.section === "brightness" || light.section === "colour" || light.section === "surface",
);

light.follow();
watch(
  () => light.section,
  (section) => {
    if (section !== "areas" && light.overlayMask === "area") light.overlayMask = undefined;
    if (section !== "brightness" && light.overlayMask === "clipped") light.overlayMask = undefined;
    if (section !== "surface" && light.overlayMask === "sharpening") light.overlayMask = undefined;
    frames.drawing = undefined;
  },
);
onBeforeUnmount(() => {
  light.without = false;
  light.overlayMask = undefined;
  frames.drawing = undefined;
});

function next(): void {
  void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "fit" } });
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="sheet-column light-sheet">
    <nav class="acts sections" aria-label="What of the light">
      <button
        v-for="name in sections"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="light.section === name"
        @click="light.section = name"
      >
        {{ name }}
      </button>
    </nav>
    <p v-if="isGrade && light.light.areas.length" class="acts where">
      <span class="quiet">of</span>
      <button type="button" class="plain-button" :aria-pressed="!light.worked" @click="light.area = undefined">
        the whole picture
      </button>
      <button
        v-for="(one, place) in light.light.areas"
        :key="place"
        type="button"
        class="plain-button"
        :aria-pressed="light.area === place"
        @click="light.area = place"
      >
        {{ one.name }}
      </button>
    </p>
    <EvenSection v-if="light.section === 'even'" />
    <ToneSection v-else-if="light.section === 'brightness'" />
    <ColourSection v-else-if="light.section === 'colour'" />
    <SurfaceSection v-else-if="light.section === 'surface'" />
    <AreasSection v-else-if="light.section === 'areas'" />
    <LooksSection v-else />
    <div class="go-on"><Button label="Go on to fit" class="main-action" @click="next" /></div>
  </div>
</template>

<style src="../sheet.css"></style>
<style src="./light.css"></style>
<style scoped>
.sections {
  border-bottom: 1px solid var(--hair);
  gap: 0 0.15rem;
  padding-bottom: 0.5rem;
}

.where {
  align-items: baseline;
}
</style>
