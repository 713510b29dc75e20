<script setup lang="ts">
import ProgressBar from "primevue/progressbar";
import { computed } from "vue";

import type { Job } from "../api/client";
import { isUnderWay } from "./jobs";
import { waitText } from "../parts/wording";

const props = defineProps<{ job: Job }>();

const units: Record<Job["kind"], string> = {
  gather: "stills",
  footage: "stills",
  find: "lost stills",
  export: "files",
  check: "pairs of neighbours",
  encode: "frames",
  together: "stills",
  move: "stills",
  sound: "seconds of sound",
  reel: "frames",
  size: "samples",
  watch: "stills",
  capture: "stills",
  offload: "MB",
};
const unit = computed(() => units[props.job.kind]);
const share = computed(() => (props.job.total ? (100 * props.job.done) / props.job.total : 0));
const said = computed(() => {
  const job = props.job;
  const counted = `${job.done.toLocaleString("en")} of ${job.total.toLocaleString("en")} ${unit.value}`;
  switch (job.state) {
    case "waiting":
      return "waits for its turn";
    case "running":
      if (job.kind === "watch")
        return job.message || `watches its folder: ${job.done.toLocaleString("en")} stills so far`;
      if (job.kind === "capture")
        return job.message || (job.total ? counted : `${job.done.toLocaleString("en")} stills so far`);
      // A card that was taken out is waited for.
      if (job.kind === "offload" && job.message) return job.message;
      if (!job.total)
        return job.kind === "sound"
          ? "opening the sound …"
          : job.kind === "size"
            ? "looking where it changes …"
            : "looking through the folder …";
      if (job.done === job.total) return `${counted}, checking …`;
      return job.seconds_to_go ? `${counted}, ${waitText(job.seconds_to_go)} to go` : counted;
    case "paused":
      return `rests at ${counted}`;
    case "finished":
      return job.message || `${job.done.toLocaleString("en")} ${unit.value}, done`;
    case "cancelled":
      return `cancelled at ${counted}`;
    default:
      if (job.kind === "offload") return job.message;
      return `stopped: ${job.message}`;
  }
});
</script>

<template>
  <div class="line" role="status">
    <ProgressBar v-if="isUnderWay(job)" :value="share" :show-value="false" :aria-label="said" />
    <span :class="{ warning: job.state === 'failed', number: isUnderWay(job) }">{{ said }}</span>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  gap: 0.3rem;
}
</style>
