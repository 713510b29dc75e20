<script setup lang="ts">
import InputNumber from "primevue/inputnumber";

import { useShot } from "../stores/shot";

const shot = useShot();
</script>

<template>
  <InputNumber
    :model-value="shot.decisions!.pace.hold"
    show-buttons
    :min="1"
    :max="1000"
    :use-grouping="false"
    :suffix="shot.decisions!.pace.hold === 1 ? ' frame' : ' frames'"
    input-class="number"
    aria-label="Frames each still stays on screen"
    fluid
    @update:model-value="$event && shot.decide({ pace: { hold: $event } })"
  />
</template>
