<script setup lang="ts">
import { ref, watch } from "vue";

import { Problem } from "../api/client";
import { useHead } from "../stores/head";
import { useShot } from "../stores/shot";
import { steps, type Step } from "../stores/steps";
import ShotSteps from "./ShotSteps.vue";

const props = defineProps<{ shotId: number; step: Step }>();

const shot = useShot();
const refusal = ref("");

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
    },
);
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
</template>

<style scoped>
.refusal {
  padding: 2rem;
}
</style>
