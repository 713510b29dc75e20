<script setup lang="ts">
import { defineAsyncComponent } from "vue";

import { helpIsOpen, helpWasOpened } from "./keys/help";
import { onKey } from "./keys/keys";
import AppHead from "./screens/AppHead.vue";

// What the first picture does without comes after it.
const KeyHelp = defineAsyncComponent(() => import("./keys/KeyHelp.vue"));
const Toast = defineAsyncComponent(() => import("primevue/toast"));

onKey((event) => {
  if (event.key !== "?") return false;
  helpIsOpen.value = true;
  return true;
});
</script>

<template>
  <AppHead />
  <RouterView />
  <KeyHelp v-if="helpWasOpened" />
  <Toast position="bottom-right" />
</template>

<style>
#app {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
}
</style>
