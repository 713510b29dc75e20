<script setup lang="ts">
import Slider from "primevue/slider";
import { computed, ref, watch } from "vue";

import type { Fit } from "../../api/client";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";

const shot = useShot();
const frames = useFrames();
const lens = computed(() => shot.decisions!.fit.lens);
const parts = [
  { name: "k1", label: "bent lines (barrel − cushion +)", most: 0.3 },
  { name: "k2", label: "… more towards the corners", most: 0.3 },
  { name: "keystone_y", label: "uprights lean (vertical keystone)", most: 0.4 },
  { name: "keystone_x", label: "levels lean (horizontal keystone)", most: 0.4 },
] as const;
const opened = ref(false);
const isStraight = computed(() => parts.every((part) => !lens.value[part.name]));

watch(isStraight, (straight) => (opened.value ||= !straight), { immediate: true });

function tryOut(part: Partial<Fit["lens"]>): void {
  frames.grid = true;
  shot.tryOut({ fit: { lens: { ...lens.value, ...part } } });
}
</script>

<template>
  <details :open="opened" @toggle="opened = ($event.target as HTMLDetailsElement).open">
    <summary>Lens and perspective</summary>
    <div class="lens">
      <label v-for="part in parts" :key="part.name">
        <span>{{ part.label }}</span><span class="number">{{ lens[part.name].toFixed(3) }}</span>
        <Slider
          :model-value="lens[part.name] * 1000"
          :min="-part.most * 1000"
          :max="part.most * 1000"
          :step="2"
          :aria-label="part.label"
          @update:model-value="tryOut({ [part.name]: ($event as number) / 1000 })"
          @slideend="shot.settle()"
          @keyup="shot.settle()"
        />
      </label>
      <p class="row">
        <label class="check"><input v-model="frames.grid" type="checkbox" /> grid on the stage</label>
        <button
          v-if="!isStraight"
          type="button"
          class="plain-button"
          @click="shot.decide({ fit: { lens: { k1: 0, k2: 0, keystone_x: 0, keystone_y: 0 } } })"
        >
          as shot
        </button>
      </p>
    </div>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  font-family: var(--heading);
  font-size: var(--type-lead);
  font-weight: 620;
}

.lens {
  display: grid;
  gap: 0.8rem;
  padding-top: 0.7rem;
}

.lens > label {
  display: grid;
  gap: 0.45rem 0.5rem;
  grid-template-columns: minmax(0, 1fr) auto;
}

.lens > label :deep(.p-slider) {
  grid-column: 1 / -1;
}

.row,
.check {
  align-items: center;
  display: flex;
  gap: 0.5rem;
  justify-content: space-between;
}

button {
  color: var(--line);
}
</style>
