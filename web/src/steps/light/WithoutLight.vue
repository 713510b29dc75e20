<script setup lang="ts">
import { useLight } from "./light";

const light = useLight();
</script>

<template>
  <span class="group">
    <button
      type="button"
      class="plain-button"
      title="L"
      :aria-pressed="light.without"
      @click="light.without = !light.without"
    >
      without light
    </button>
  </span>
</template>

<style scoped src="../../stage/bar.css"></style>
