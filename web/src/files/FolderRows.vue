<script setup lang="ts">
/** The folders in a folder, one a row, each to be gone into. */
defineProps<{ folders: readonly string[] }>();
const emit = defineEmits<{ open: [name: string] }>();
</script>

<template>
  <ul class="folders">
    <li v-for="name in folders" :key="name">
      <button type="button" class="plain-button" @click="emit('open', name)">
        {{ name }} <span aria-hidden="true">›</span>
      </button>
    </li>
    <slot></slot>
  </ul>
</template>

<style scoped>
.folders {
  border-bottom: 1px solid var(--hair);
  border-top: 1px solid var(--hair);
  list-style: none;
  margin: 0;
  max-height: 11rem;
  overflow: auto;
  padding: 0.3rem 0;
}

.folders :deep(button) {
  display: flex;
  justify-content: space-between;
  padding: 0.25rem 0.5rem;
  text-align: left;
  width: 100%;
}

.folders :deep(.none) {
  padding: 0.25rem 0.5rem;
}
</style>
