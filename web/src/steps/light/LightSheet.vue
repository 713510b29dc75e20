<script setup lang="ts">
import Button from "primevue/button";
import { onBeforeUnmount } from "vue";
import { useRouter } from "vue-router";

import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import ColourSection from "./ColourSection.vue";
import EvenSection from "./EvenSection.vue";
import { useLight } from "./light";
import ToneSection from "./ToneSection.vue";

const shot = useShot();
const light = useLight();
const frames = useFrames();
const router = useRouter();

light.follow();
onBeforeUnmount(() => {
  light.without = false;
  if (frames.drawing === "grey") frames.drawing = undefined;
});

function next(): void {
  void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "fit" } });
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="sheet-column">
    <EvenSection />
    <ToneSection />
    <ColourSection />
    <div><Button label="Go on to fit" class="main-action" @click="next" /></div>
  </div>
</template>

<style src="../sheet.css"></style>
