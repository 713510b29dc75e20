<script setup lang="ts">
import SelectButton from "primevue/selectbutton";

import { useShot } from "../../stores/shot";
import { directions } from "../../parts/choices";

const shot = useShot();
</script>

<template>
  <SelectButton
    :model-value="shot.decisions!.pace.direction"
    :options="[...directions]"
    option-label="name"
    option-value="direction"
    :allow-empty="false"
    aria-label="In which direction"
    @update:model-value="shot.decide({ pace: { direction: $event } })"
  />
</template>
