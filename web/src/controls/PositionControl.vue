<script setup lang="ts">
import Slider from "primevue/slider";
import { computed } from "vue";

import { useShot } from "../stores/shot";

const shot = useShot();
const fit = computed(() => shot.decisions!.fit);
const cost = computed(() => shot.brief?.cost);
const slack = computed(() => ({
  down: fit.value.how === "contain" ? (cost.value?.empty ?? 0) > 0 : (cost.value?.top ?? 0) + (cost.value?.bottom ?? 0) > 0,
  across: fit.value.how === "contain" ? (cost.value?.empty ?? 0) > 0 : (cost.value?.left ?? 0) + (cost.value?.right ?? 0) > 0,
}));

const directions = [
  { name: "down", label: "Up or down", ends: ["keep the top", "keep the bottom"], inside: ["at the top", "at the bottom"] },
  { name: "across", label: "Left or right", ends: ["keep the left", "keep the right"], inside: ["at the left", "at the right"] },
] as const;

function words(direction: (typeof directions)[number]): readonly string[] {
  return fit.value.how === "cover" ? direction.ends : direction.inside;
}
</script>

<template>
  <div class="position">
    <template v-for="direction in directions" :key="direction.name">
      <div v-if="slack[direction.name]" class="one">
        <span class="label">{{ direction.label }}</span>
        <Slider
          :model-value="fit[direction.name] * 100"
          :min="0"
          :max="100"
          :step="0.5"
          :aria-label="direction.label"
          @update:model-value="shot.tryOut({ fit: { [direction.name]: ($event as number) / 100 } })"
          @slideend="shot.decide({})"
          @keyup="shot.decide({})"
        />
        <div class="ends">
          <button class="plain-button" type="button" @click="shot.decide({ fit: { [direction.name]: 0 } })">
            {{ words(direction)[0] }}
          </button>
          <button class="plain-button" type="button" @click="shot.decide({ fit: { [direction.name]: 0.5 } })">middle</button>
          <button class="plain-button" type="button" @click="shot.decide({ fit: { [direction.name]: 1 } })">
            {{ words(direction)[1] }}
          </button>
        </div>
      </div>
    </template>
    <p v-if="!slack.down && !slack.across" class="quiet">The shapes are the same: nothing to move.</p>
  </div>
</template>

<style scoped>
.position {
  display: grid;
  gap: 1rem;
  min-width: 16rem;
}

.one {
  display: grid;
  gap: 0.7rem;
}

.ends {
  display: flex;
  justify-content: space-between;
  font-size: 0.92rem;
  color: var(--line);
  margin: 0 -0.3rem;
}
</style>
