<script setup lang="ts">
import { usePlots } from "./plots";

const plots = usePlots();
plots.follow();
</script>

<template>
  <select
    v-for="(_, index) in plots.chosen"
    :key="index"
    v-model="plots.chosen[index]"
    :aria-label="index ? 'Second plot' : 'First plot'"
  >
    <option v-for="plot in plots.all" :key="plot.name" :value="plot.name">{{ plot.name }}</option>
  </select>
</template>

<style scoped>
select {
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hair);
  color: var(--line);
  font: inherit;
  max-width: 6.6rem;
}
</style>
