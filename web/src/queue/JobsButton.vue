<script setup lang="ts">
import { nextTick, ref, shallowRef, type Component } from "vue";

import type JobsPanel from "./JobsPanel.vue";
import { useJobs } from "./jobs";

const jobs = useJobs();
const button = ref<HTMLElement>();
const panel = ref<InstanceType<typeof JobsPanel>>();
const loaded = shallowRef<Component>();

/** The panel is loaded when it is first asked for. */
async function toggle(event: Event): Promise<void> {
  if (!loaded.value) {
    loaded.value = (await import("./JobsPanel.vue")).default;
    await nextTick();
  }
  panel.value?.toggle(event, button.value!);
}
</script>

<template>
  <button ref="button" class="plain-button jobs" type="button" aria-haspopup="dialog" @click="toggle">
    <span v-if="jobs.underWay.length" class="busy" aria-hidden="true"></span>
    {{
      jobs.underWay.length ? `${jobs.underWay.length} ${jobs.underWay.length === 1 ? "job" : "jobs"} running` : "jobs"
    }}
  </button>
  <component :is="loaded" ref="panel" />
</template>

<style scoped>
.jobs {
  align-items: center;
  display: flex;
  gap: 0.4rem;
}

.busy {
  animation: turn 1.6s linear infinite;
  border: 2px solid var(--line);
  border-radius: 50%;
  border-top-color: transparent;
  height: 0.8rem;
  width: 0.8rem;
}

@keyframes turn {
  to {
    transform: rotate(1turn);
  }
}
</style>
