<script setup lang="ts">
import Popover from "primevue/popover";
import { ref } from "vue";

import type { Job } from "../api/client";
import type { Step } from "../stores/steps";
import { useJobs } from "./jobs";
import JobLine from "./JobLine.vue";
import { askToTell, tells } from "./telling";

const stepOf: Partial<Record<Job["kind"], Step>> = {
  gather: "gather",
  footage: "gather",
  find: "gather",
  export: "order",
  check: "check",
  encode: "encode",
  together: "check",
  move: "move",
  size: "encode",
  watch: "gather",
};
const titles: Record<Job["kind"], string> = {
  gather: "gather",
  footage: "take stills for",
  find: "find the stills of",
  export: "write files of",
  check: "compare the neighbours in",
  encode: "encode",
  together: "put together stills of",
  move: "measure the movement of",
  sound: "take in a sound for",
  reel: "encode the reel",
  size: "measure the sizes of",
  watch: "watch the folder of",
  capture: "shoot",
  offload: "empty the card",
};

const jobs = useJobs();
function placeOf(job: Job) {
  if (job.kind === "offload") return { name: "project", params: { project: job.project_id } };
  if (job.kind === "capture") return { name: "capture", params: { project: job.project_id, shot: job.shot_id } };
  if (job.reel_id === null || job.reel_id === undefined)
    return { name: "shot", params: { shot: job.shot_id, step: stepOf[job.kind] } };
  return { name: "reel", params: { reel: job.reel_id, tab: job.kind === "sound" ? "sound" : "finish" } };
}
const panel = ref<InstanceType<typeof Popover>>();

defineExpose({ toggle: (event: Event, at: HTMLElement) => panel.value?.toggle(event, at) });
</script>

<template>
  <Popover ref="panel">
    <div class="list">
      <p v-if="!jobs.all.length" class="quiet">Nothing has been done yet. Gathering and encoding show up here.</p>
      <RouterLink
        v-for="job in jobs.all.slice(0, 8)"
        :key="job.id"
        class="job"
        :to="placeOf(job)"
        @click="panel?.hide()"
      >
        <strong>{{ titles[job.kind] }} {{ job.shot_name }}</strong>
        <JobLine :job="job" />
      </RouterLink>
      <p class="acts">
        <RouterLink :to="{ name: 'queue' }" @click="panel?.hide()">the queue of encodes</RouterLink>
        <button v-if="!tells" type="button" class="plain-button" @click="askToTell">
          tell me when something long is done
        </button>
      </p>
    </div>
  </Popover>
</template>

<style scoped>
.list {
  display: grid;
  gap: 0.2rem;
  width: 24rem;
}

.job {
  border-radius: var(--round);
  color: inherit;
  display: block;
  padding: 0.45rem 0.5rem;
  text-decoration: none;
}

.job + .job {
  border-top: 1px solid var(--hair);
}

.acts a {
  padding: 0.1rem 0.3rem;
}

.job:hover {
  background: var(--shade);
}
</style>
