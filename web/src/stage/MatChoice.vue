<script setup lang="ts">
import { mats, useMat } from "./mat";

/** The colour around the picture, which colours are judged against. */
const mat = useMat();
</script>

<template>
  <span class="mats" role="group" aria-label="Colour around the picture">
    <button
      v-for="name in mats"
      :key="name"
      type="button"
      :class="['swatch', name, { chosen: mat === name }]"
      :aria-label="`${name} around the picture`"
      :aria-pressed="mat === name"
      @click="mat = name"
    ></button>
  </span>
</template>

<style scoped>
.mats {
  display: flex;
  gap: 0.35rem;
  margin-left: auto;
}

/* The dot is small, what can be hit around it is not. */
.swatch {
  background-clip: content-box;
  border: 0;
  border-radius: 50%;
  cursor: pointer;
  height: 24px;
  padding: 4px;
  position: relative;
  width: 24px;
}

.swatch::after {
  border: 1px solid var(--soft-ink);
  border-radius: 50%;
  content: "";
  inset: 4px;
  position: absolute;
}

.swatch.white {
  background-color: var(--mat-white);
}

.swatch.grey {
  background-color: var(--mat-grey);
}

.swatch.black {
  background-color: var(--mat-black);
}

.swatch.chosen {
  outline: 2px solid var(--line);
  outline-offset: -2px;
}
</style>
