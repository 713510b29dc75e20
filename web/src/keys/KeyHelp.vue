<script setup lang="ts">
import Dialog from "primevue/dialog";

import { keyList } from "./keys";
import { helpIsOpen } from "./help";
</script>

<template>
  <Dialog
    v-model:visible="helpIsOpen"
    modal
    dismissable-mask
    header="Keys"
    :style="{ width: '26rem' }"
    :pt="{ content: { tabindex: 0 } }"
  >
    <dl>
      <template v-for="entry in keyList" :key="entry.keys">
        <dt class="number">{{ entry.keys }}</dt>
        <dd>{{ entry.does }}</dd>
      </template>
    </dl>
    <p class="quiet">On the tail: drag or use the wheel to go through the shot.</p>
  </Dialog>
</template>

<style scoped>
dl {
  display: grid;
  gap: 0.45rem 1.2rem;
  grid-template-columns: auto 1fr;
  margin: 0 0 1rem;
}

dt {
  white-space: pre;
}

dd {
  margin: 0;
}
</style>
