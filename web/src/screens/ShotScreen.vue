<script setup lang="ts">
import { defineAsyncComponent, ref, watch } from "vue";

import { Problem } from "../api/client";
import { findingIsOpen, findingWasOpened } from "../keys/finding";
import { onKey } from "../keys/keys";
import { useHead } from "../stores/head";
import { useShot } from "../stores/shot";
import { steps, type Step } from "../stores/steps";
import ShotSteps from "./ShotSteps.vue";

const FindControl = defineAsyncComponent(() => import("./FindControl.vue"));
const props = defineProps<{ shotId: number; step: Step }>();

const shot = useShot();
const refusal = ref("");

function find(): void {
  findingIsOpen.value = true;
}

useHead(
  () =>
    shot.shot && {
      project: { id: shot.shot.project_id, name: shot.shot.project_name },
      inside: shot.shot.name,
      tabs: steps.map((name) => ({
        words: name,
        to: { name: "shot", params: { shot: shot.shot!.id, step: name } },
        isOpen: name === props.step,
        isToLookAt: shot.toLookAt[name],
      })),
      tabsAre: "Steps",
      find,
    },
);
onKey((event) => {
  if (event.key !== "/") return false;
  find();
  return true;
});
watch(
  () => props.shotId,
  async (id) => {
    refusal.value = "";
    try {
      await shot.open(id);
    } catch (error) {
      refusal.value = error instanceof Problem ? error.message : String(error);
    }
  },
  { immediate: true },
);
</script>

<template>
  <p v-if="refusal" class="refusal look" role="alert">{{ refusal }}</p>
  <ShotSteps v-else-if="shot.shot && shot.decisions" :step="step" />
  <p v-else class="refusal quiet">Opening the shot …</p>
  <FindControl v-if="findingWasOpened" />
</template>

<style scoped>
.refusal {
  padding: 2rem;
}
</style>
