<script setup lang="ts">
import Select from "primevue/select";

import { useShot } from "../../stores/shot";
import { qualities } from "../choices";

const shot = useShot();
</script>

<template>
  <Select
    :model-value="shot.decisions!.encode.crf"
    :options="[...qualities]"
    option-label="name"
    option-value="crf"
    aria-label="Quality"
    fluid
    @update:model-value="shot.decide({ encode: { crf: $event } })"
  >
    <template #option="{ option }">
      <span class="quality">{{ option.name }}</span>
      <span class="quiet">{{ option.hint }}</span>
    </template>
  </Select>
</template>

<style scoped>
.quality {
  flex: none;
  width: 6rem;
}
</style>
