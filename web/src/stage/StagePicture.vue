<script setup lang="ts">
import { computed } from "vue";

import { placeIn } from "../parts/drag";
import { usePicture } from "./picture";

const props = defineProps<{ address: string | undefined; words: string; aside?: boolean }>();
const emit = defineEmits<{ over: [x: number, y: number]; away: [] }>();
const slots = defineSlots<{ default?(props: { timecode: string; waiting: boolean }): unknown }>();

const { shown, refusal, waiting } = usePicture(computed(() => props.address));

function move(event: PointerEvent): void {
  const { x, y } = placeIn(event.currentTarget as Element, event);
  emit("over", x, y);
}

defineExpose({ shown, waiting });
</script>

<template>
  <p v-if="refusal" class="sentence" role="alert">{{ refusal }}</p>
  <img
    v-else-if="shown"
    :src="shown.source"
    :class="{ aside }"
    :alt="words"
    @pointermove="move"
    @pointerleave="emit('away')"
  />
  <p v-else-if="waiting" class="sentence" role="status">Being made …</p>
  <slot v-if="slots.default" :timecode="shown?.timecode ?? ''" :waiting="waiting"></slot>
</template>

<style scoped>
img {
  box-shadow: 0 0 0 1px var(--picture-edge);
  display: block;
  max-height: 100%;
  max-width: 100%;
  min-height: 0;
}

img.aside {
  filter: grayscale(0.7) opacity(0.55);
}

.sentence {
  background: var(--paper);
  border-radius: var(--round);
  max-width: 32rem;
  padding: 0.7rem 1rem;
}
</style>
