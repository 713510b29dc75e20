<script setup lang="ts">
import Toast from "primevue/toast";

import AppHead from "./screens/AppHead.vue";
import KeyHelp from "./keys/KeyHelp.vue";
</script>

<template>
  <AppHead />
  <RouterView />
  <KeyHelp />
  <Toast position="bottom-right" />
</template>

<style>
#app {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
}
</style>
