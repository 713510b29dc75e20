<script setup lang="ts">
import InputNumber from "primevue/inputnumber";

import type { Answers } from "../../api/client";

/** A width and height of one's own, in even pixels. */
const size = defineModel<Answers["size"]>({ required: true });

function change(side: "width" | "height", value: unknown): void {
  if (typeof value === "number" && value >= 16) size.value = { ...size.value, [side]: 2 * Math.round(value / 2) };
}
</script>

<template>
  <p class="own">
    <span class="quiet">or</span>
    <InputNumber
      :model-value="size.width"
      :min="16"
      :max="8192"
      :step="2"
      :use-grouping="false"
      input-class="number side"
      aria-label="Width of the clip"
      @update:model-value="change('width', $event)"
    />
    ×
    <InputNumber
      :model-value="size.height"
      :min="16"
      :max="8192"
      :step="2"
      :use-grouping="false"
      input-class="number side"
      aria-label="Height of the clip"
      @update:model-value="change('height', $event)"
    />
    <span class="quiet">pixels</span>
  </p>
</template>

<style scoped>
.own {
  align-items: center;
  display: flex;
  gap: 0.5rem;
}

.own :deep(.side) {
  padding: 0.2rem 0.4rem;
  width: 4.6rem;
}
</style>
