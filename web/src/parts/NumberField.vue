<script setup lang="ts">
import InputNumber from "primevue/inputnumber";

/** An exact number beside its name; it is kept when the field is left, or with Enter. */
defineProps<{
  label: string;
  value: number;
  min: number;
  max: number;
  step?: number;
  places?: number;
  unit?: string;
}>();
const emit = defineEmits<{ change: [value: number] }>();
</script>

<template>
  <label class="number-field">
    <span>{{ label }}</span>
    <InputNumber
      :model-value="value"
      :min="min"
      :max="max"
      :step="step ?? 1"
      :max-fraction-digits="places ?? 0"
      :suffix="unit"
      :use-grouping="false"
      locale="en"
      input-class="number"
      fluid
      @update:model-value="$event !== null && $event !== value && emit('change', $event)"
    />
  </label>
</template>

<style scoped>
.number-field {
  align-items: center;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: minmax(0, 1fr) 6.6rem;
}
</style>
