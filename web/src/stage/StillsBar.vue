<script setup lang="ts">
import { useViewModes, viewModes as names } from "./viewModes";

/** Where stills are put in order: one of them, or all. */
const modes = useViewModes();
</script>

<template>
  <div class="view-modes" role="toolbar" aria-label="How to look">
    <span class="group">
      <button
        v-for="name in ['one', 'all'] as const"
        :key="name"
        type="button"
        class="plain-button"
        :aria-pressed="(modes.mode === 'all') === (name === 'all')"
        @click="modes.show(name)"
      >
        {{ names[name] }}
      </button>
    </span>
  </div>
</template>

<style scoped src="./bar.css"></style>
