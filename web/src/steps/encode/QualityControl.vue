<script setup lang="ts">
import Select from "primevue/select";

import { useShot } from "../../stores/shot";
import { qualities } from "../choices";

const shot = useShot();
</script>

<template>
  <div class="choices">
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
    <label class="check">
      <input type="checkbox" :checked="shot.decisions!.encode.depth === 10" @change="shot.decide({ encode: { depth: ($event.target as HTMLInputElement).checked ? 10 : 8 } })" />
      10 bits a colour
    </label>
    <p v-if="shot.decisions!.encode.depth === 10" class="quiet">Slow slopes such as a night sky stay smooth when the clip is graded. Editors read it; some phones and browsers do not play it.</p>
  </div>
</template>

<style scoped>
.choices {
  display: grid;
  gap: 0.8rem;
}

.choices p {
  margin: 0;
}

.quality {
  flex: none;
  width: 6rem;
}
</style>
