<script setup lang="ts">
import SelectButton from "primevue/selectbutton";

import { useShot } from "../stores/shot";

const shot = useShot();
const ways = [
  { how: "cover", name: "Fill the frame" },
  { how: "contain", name: "Show all of it" },
] as const;
</script>

<template>
  <SelectButton
    :model-value="shot.decisions!.fit.how"
    :options="[...ways]"
    option-label="name"
    option-value="how"
    :allow-empty="false"
    aria-label="How a still fits the frame"
    @update:model-value="shot.decide({ fit: { how: $event } })"
  />
</template>
