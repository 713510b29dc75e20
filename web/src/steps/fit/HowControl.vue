<script setup lang="ts">
import SelectButton from "primevue/selectbutton";
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import SurroundControl from "./SurroundControl.vue";

const shot = useShot();
const ways = [
  { how: "cover", name: "Fill the frame" },
  { how: "contain", name: "Show all of it" },
  { how: "stretch", name: "Stretch" },
] as const;
const fit = computed(() => shot.decisions!.fit);
const distorts = computed(() => shot.brief?.parts.find((part) => part.control === "how")?.warning);
</script>

<template>
  <div class="how">
    <SelectButton
      :model-value="fit.how"
      :options="[...ways]"
      option-label="name"
      option-value="how"
      :allow-empty="false"
      aria-label="How a still fits the frame"
      @update:model-value="shot.decide({ fit: { how: $event, zoom: 1 } })"
    />
    <p v-if="fit.how === 'stretch' && distorts" class="warning">{{ distorts }}</p>
    <SurroundControl v-if="fit.how === 'contain'" />
  </div>
</template>

<style scoped>
.how {
  display: grid;
  gap: 0.6rem;
}
</style>
