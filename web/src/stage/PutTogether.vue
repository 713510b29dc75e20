<script setup lang="ts">
import { computed } from "vue";

import { isUnderWay } from "../queue/jobs";
import { useTogether } from "./together";
import JobLine from "../queue/JobLine.vue";

const together = useTogether();
const ended = computed(
  () => together.job !== undefined && !isUnderWay(together.job) && together.job.state !== "finished",
);
</script>

<template>
  <div class="together" role="status">
    <p v-if="together.refusal" class="warning">{{ together.refusal }}</p>
    <template v-else>
      <p>Putting the stills together. What is finished is kept for the next time.</p>
      <JobLine v-if="together.job" :job="together.job" />
    </template>
    <button v-if="ended || together.refusal" class="plain-button" type="button" @click="together.ask()">
      put them together again
    </button>
    <button v-else-if="together.job" class="plain-button" type="button" @click="together.cancel()">cancel</button>
  </div>
</template>

<style scoped>
.together {
  background: var(--paper);
  border-radius: var(--round);
  display: grid;
  gap: 0.6rem;
  justify-items: start;
  max-width: 24rem;
  padding: 0.8rem 1rem;
  width: 100%;
}

.together > :deep(.line) {
  width: 100%;
}
</style>
