<script setup lang="ts">
import { usePlots } from "./plots";

const plots = usePlots();
</script>

<template>
  <span v-for="(value, index) in plots.values" :key="index" :title="plots.chosen[index]">{{ value }}</span>
</template>

<style scoped>
span {
  white-space: nowrap;
}
</style>
