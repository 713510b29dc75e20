<script setup lang="ts">
import { api, type Captured } from "../../api/client";
import { useShot } from "../../stores/shot";

/** A shoot that goes on, or is over: how it is paused and ended, what can be done with it, what is missing of it. */
defineProps<{ captured: Captured; runs: boolean }>();
const emit = defineEmits<{ act: [work: () => Promise<unknown>] }>();

const shot = useShot();
</script>

<template>
  <p v-if="runs" class="acts">
    <button
      v-if="captured.paused"
      type="button"
      class="plain-button"
      @click="emit('act', () => api.goOnCapturing(captured.job.id))"
    >
      go on
    </button>
    <button v-else type="button" class="plain-button" @click="emit('act', () => api.pauseCapture(captured.job.id))">
      pause
    </button>
    <button type="button" class="plain-button" @click="emit('act', () => api.stopCapture(captured.job.id))">
      stop
    </button>
  </p>
  <p v-else>{{ captured.job.message }}</p>
  <p v-if="captured.paused && runs" class="quiet">It rests: stills are left out until it goes on.</p>
  <p v-if="shot.count > 1" class="acts links">
    <RouterLink :to="{ name: 'shot', params: { shot: shot.shot?.id, step: 'pace' } }">play the clip so far</RouterLink>
    <RouterLink :to="{ name: 'shot', params: { shot: shot.shot?.id, step: 'check' } }">what the check finds</RouterLink>
    <RouterLink :to="{ name: 'shot', params: { shot: shot.shot?.id, step: 'encode' } }">encode</RouterLink>
  </p>
  <template v-if="captured.gaps.length">
    <h2>Missing or late</h2>
    <ul class="gaps">
      <li v-for="gap in captured.gaps.slice(0, 40)" :key="gap.first">
        <span class="number">{{ gap.first + 1 }}{{ gap.last > gap.first ? ` – ${gap.last + 1}` : "" }}</span>
        {{ gap.sentence }}
      </li>
    </ul>
  </template>
</template>

<style scoped>
.gaps {
  display: grid;
  gap: 0.2rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

.links a {
  padding: 0.1rem 0.3rem;
}
</style>
