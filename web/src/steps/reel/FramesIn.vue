<script setup lang="ts">
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useReel } from "./reel";

/** A length typed in seconds, kept in whole frames of the reel. */
const props = defineProps<{ label: string; frames: number; most?: number }>();
const emit = defineEmits<{ change: [frames: number] }>();

const reel = useReel();
const seconds = computed(() => Math.round((1000 * props.frames) / reel.rate) / 1000);
const step = computed(() => Math.round(1000 / reel.rate) / 1000);
</script>

<template>
  <NumberField
    :label="label"
    :value="seconds"
    :min="0"
    :max="most ?? 3600"
    :step="step"
    :places="3"
    unit=" s"
    @change="emit('change', Math.round($event * reel.rate))"
  />
</template>
