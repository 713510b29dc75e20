<script setup lang="ts">
import Select from "primevue/select";
import { computed } from "vue";

import { useShot } from "../stores/shot";
import { rates } from "./choices";

const shot = useShot();
const chosen = computed(() => rates.find((one) => one.rate === shot.decisions!.pace.rate));
</script>

<template>
  <Select
    :model-value="shot.decisions!.pace.rate"
    :options="[...rates]"
    option-label="name"
    option-value="rate"
    aria-label="Frames per second"
    fluid
    @update:model-value="shot.decide({ pace: { rate: $event } })"
  >
    <template #value>
      <span class="number">{{ chosen?.name ?? shot.decisions!.pace.rate }}</span> frames per second
    </template>
    <template #option="{ option }">
      <span class="rate number">{{ option.name }}</span>
      <span class="quiet">{{ option.hint }}</span>
    </template>
  </Select>
</template>

<style scoped>
.rate {
  flex: none;
  width: 4.2rem;
}
</style>
