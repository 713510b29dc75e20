<script setup lang="ts">
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useSteady } from "./steady";

/** The horizon, the edges, and how much of all that. */
const steady = useSteady();
const now = computed(() => steady.steady);
const lean = computed(() => steady.found?.lean_deg ?? undefined);
</script>

<template>
  <section>
    <label v-if="lean !== undefined && (now.how !== 'anchor' || now.points.length < 2)" class="check"
      ><input type="checkbox" :checked="now.upright" @change="steady.set({ upright: !now.upright })" /> keep the horizon
      level: it leans {{ Math.abs(lean).toFixed(1) }}° {{ lean > 0 ? "to the right" : "to the left" }}</label
    >
    <p class="acts">
      <span class="quiet">edges</span>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="now.edges === 'crop'"
        title="Closer, until no still leaves anything empty"
        @click="steady.set({ edges: 'crop' })"
      >
        cropped
      </button>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="now.edges === 'fill'"
        title="What a still leaves empty is taken from the stills before and after, where they have it"
        @click="steady.set({ edges: 'fill' })"
      >
        filled from the stills beside
      </button>
    </p>
    <NumberField
      label="how much of it"
      :value="now.share * 100"
      :min="0"
      :max="100"
      :step="5"
      unit=" %"
      @change="steady.set({ share: $event / 100 })"
    />
  </section>
</template>

<style scoped src="./move.css"></style>
