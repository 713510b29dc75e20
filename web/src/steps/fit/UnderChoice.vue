<script setup lang="ts">
import { undersides, useFrames } from "../../stage/frames";

const frames = useFrames();
</script>

<template>
  <span v-if="frames.mode === 'around'" class="group">
    <span class="quiet">under it:</span>
    <button
      v-for="name in undersides"
      :key="name"
      type="button"
      class="plain-button"
      :aria-pressed="frames.under === name"
      @click="frames.under = name"
    >
      {{ name === "still" ? "this still" : name }}
    </button>
  </span>
</template>

<style scoped src="../../stage/bar.css"></style>
