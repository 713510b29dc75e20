<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";

import { api, type Job } from "../../api/client";
import { onTold } from "../../api/events";
import { useRead } from "../../api/queries";
import { useAttempt } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import JobLine from "../../queue/JobLine.vue";
import { isUnderWay, useJobs } from "../../queue/jobs";

/** Cards that were emptied into a project, or are being: how far it is, and whether each may be wiped. */
const props = defineProps<{ projectId: number }>();
const emit = defineEmits<{ made: [] }>();

const jobs = useJobs();
const { refusal, attempt } = useAttempt();
const { answer, again } = useRead(() => ({
  key: ["project", props.projectId, "offloads"],
  query: () => api.offloads(props.projectId),
}));
const shown = computed(() =>
  (answer.value ?? []).map((one) => ({ ...one, job: jobs.all.find((job) => job.id === one.job.id) ?? one.job })),
);

function makeShots(job: Job): Promise<void> {
  return attempt(async () => {
    await api.shotsOfOffload(job.id);
    await again();
    emit("made");
  });
}

const cancel = (job: Job) => attempt(() => jobs.cancel(job));
const goOn = (job: Job) => attempt(() => jobs.goOn(job));

// How far one is comes with the jobs themselves.
onTold(
  "job",
  (job) => job.kind === "offload" && job.state !== "running" && job.project_id === props.projectId && void again(),
);
</script>

<template>
  <section v-if="shown.length" class="cards" aria-label="Cards">
    <h2>Cards</h2>
    <article v-for="{ job, targets, to_make: toMake } in shown" :key="job.id">
      <h3>{{ job.shot_name }}</h3>
      <JobLine :job="job" />
      <p v-if="job.state !== 'finished'" class="quiet">into {{ targets.join(" and ") }}</p>
      <div v-if="isUnderWay(job)" class="acts">
        <button type="button" class="plain-button" @click="cancel(job)">stop copying</button>
      </div>
      <template v-else>
        <div v-if="toMake && job.state === 'finished'">
          <Button :label="`Make ${countText(toMake, 'shot')} of it`" @click="makeShots(job)" />
        </div>
        <div v-if="job.state !== 'finished'" class="acts">
          <button type="button" class="plain-button" @click="goOn(job)">go on with what is missing</button>
        </div>
      </template>
    </article>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </section>
</template>

<style scoped>
.cards,
article {
  display: grid;
  gap: 0.5rem;
}

article {
  border-top: 1px solid var(--hair);
  padding-top: 0.6rem;
}

.acts {
  color: var(--line);
  margin-left: -0.3rem;
}
</style>
