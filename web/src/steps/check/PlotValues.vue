<script setup lang="ts">
import { usePlots } from "./plots";

const plots = usePlots();
</script>

<template>
  <footer class="number">
    <span v-for="(value, index) in plots.values" :key="index" :title="plots.chosen[index]">{{ value }}</span>
  </footer>
</template>

<style scoped>
footer {
  align-items: center;
  border-top: 1px solid var(--hair);
  color: var(--soft-ink);
  display: flex;
  font-size: var(--type-tiny);
  justify-content: space-between;
  padding: 0 0.6rem;
  white-space: nowrap;
}
</style>
