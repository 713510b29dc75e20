<script setup lang="ts">
import Button from "primevue/button";
import { onBeforeUnmount, onMounted, watch } from "vue";
import { useRouter } from "vue-router";

import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { sections, useMove } from "./move";
import ModelSection from "./ModelSection.vue";
import { useSteady } from "./steady";
import SteadySection from "./SteadySection.vue";
import TravelSection from "./TravelSection.vue";

const shot = useShot();
const frames = useFrames();
const move = useMove();
const steady = useSteady();
const router = useRouter();

move.follow();
steady.follow();
const look = () => frames.show(move.section === "miniature look" ? "frame" : "around");
onMounted(look);
watch(() => move.section, look);
onBeforeUnmount(() => frames.show("frame"));

function next(): void {
  void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "pace" } });
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="sheet-column">
    <nav class="acts" aria-label="What of the movement">
      <button
        v-for="name in sections"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="move.section === name"
        @click="move.section = name"
      >
        {{ name }}
      </button>
    </nav>
    <TravelSection v-if="move.section === 'travel'" />
    <SteadySection v-else-if="move.section === 'steady'" />
    <ModelSection v-else />
    <div class="go-on"><Button label="Go on to pace" class="main-action" @click="next" /></div>
  </div>
</template>

<style src="../sheet.css"></style>
