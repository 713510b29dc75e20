<script setup lang="ts">
import type { Finding, Remedy } from "../../api/client";
import { remedyHints, remedyWords } from "./words";

/** What can be done about a finding; each remedy can be tried by pointing at it. */
defineProps<{ finding: Finding; isNow: boolean }>();
const emit = defineEmits<{ apply: [remedy: Remedy | "none"]; try: [remedy: Remedy]; leave: [] }>();
</script>

<template>
  <p class="remedies">
    <template v-if="finding.settled">
      <span class="done">settled</span>
      <button type="button" class="plain-button" @click="emit('apply', 'none')">take back</button>
    </template>
    <button
      v-for="remedy in finding.remedies"
      v-else
      :key="remedy"
      type="button"
      class="plain-button"
      :title="remedyHints[remedy]"
      @pointerenter="isNow && emit('try', remedy)"
      @pointerleave="emit('leave')"
      @focus="emit('try', remedy)"
      @blur="emit('leave')"
      @click="emit('apply', remedy)"
    >
      {{ remedyWords[remedy] }}
    </button>
  </p>
</template>

<style scoped>
.remedies {
  padding-left: 4.4rem;
}

.remedies button {
  color: var(--line);
  font-size: var(--type-near);
}

.done {
  color: var(--moss-ink);
  font-size: var(--type-near);
}
</style>
