<script setup lang="ts">
import type { CameraState } from "../../api/client";
import { exposureText } from "./exposure";

/** The exposure and sensitivity a camera is set to, out of those it has. */
defineProps<{ state: CameraState; settings: NonNullable<CameraState["settings"]> }>();
const emit = defineEmits<{ expose: [exposure_s: number, sensitivity: number] }>();
</script>

<template>
  <h2>Exposure</h2>
  <div class="line">
    <select
      aria-label="exposure"
      class="number"
      :value="settings.exposure_s"
      @change="emit('expose', Number(($event.target as HTMLSelectElement).value), settings.sensitivity)"
    >
      <option v-for="one in state.exposures_s" :key="one" :value="one">{{ exposureText(one) }}</option>
    </select>
    <select
      aria-label="sensitivity"
      class="number"
      :value="settings.sensitivity"
      @change="emit('expose', settings.exposure_s, Number(($event.target as HTMLSelectElement).value))"
    >
      <option v-for="one in state.sensitivities" :key="one" :value="one">ISO {{ one }}</option>
    </select>
  </div>
</template>

<style scoped>
.line {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 1fr 1fr;
}

select {
  width: 100%;
}
</style>
