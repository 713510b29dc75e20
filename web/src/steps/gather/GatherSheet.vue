<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { useRouter } from "vue-router";

import { api } from "../../api/client";
import JobLine from "../../queue/JobLine.vue";
import { useSentences } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import { isUnderWay, useJobs } from "../../queue/jobs";
import { useShot } from "../../stores/shot";
import BesideList from "./BesideList.vue";
import ShotTasks from "./ShotTasks.vue";
import SortingList from "./SortingList.vue";

const shot = useShot();
const jobs = useJobs();
const router = useRouter();
const { refused } = useSentences();
const kinds = ["gather", "footage", "find"] as const;
const job = computed(() => {
  const latest = kinds.map((kind) => jobs.latest(shot.shot!.id, kind)).filter((one) => one !== undefined);
  return latest.sort((one, other) => other.id - one.id)[0];
});
/** The job that goes on taking in what comes: a watched folder, or a camera. */
const growing = computed(() =>
  [jobs.latest(shot.shot!.id, "watch"), jobs.latest(shot.shot!.id, "capture")].find((one) => isUnderWay(one)),
);
const running = computed(() => isUnderWay(job.value));

function next(): void {
  if (shot.count) void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "fit" } });
}

async function goOn(): Promise<void> {
  try {
    await api.gatherAgain(shot.shot!.id);
  } catch (error) {
    refused(error);
  }
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="gather">
    <h2>{{ running ? "Gathering" : "What was gathered" }}</h2>
    <p>{{ shot.stills.found }}</p>
    <div v-if="job && running" class="job">
      <JobLine :job="job" />
      <Button label="Cancel" severity="secondary" size="small" @click="jobs.cancel(job)" />
    </div>
    <div v-else-if="!shot.shot!.gathered" class="job">
      <p class="warning">{{ job?.message || "Not all stills were read." }}</p>
      <Button label="Go on gathering" severity="secondary" @click="goOn" />
    </div>
    <div v-if="growing" class="job">
      <JobLine :job="growing" />
      <RouterLink
        v-if="growing.kind === 'capture'"
        :to="{ name: 'capture', params: { project: shot.shot!.project_id, shot: shot.shot!.id } }"
        >to the camera</RouterLink
      >
      <Button v-else label="Watch no more" severity="secondary" size="small" @click="jobs.cancel(growing)" />
    </div>
    <dl>
      <dt>Folder</dt>
      <dd class="path">{{ shot.shot!.folder }}</dd>
      <dt>Files</dt>
      <dd>{{ shot.shot!.copied ? "copied into this project" : "stay where they are" }}</dd>
    </dl>
    <p v-if="job && !running && job.message && shot.shot!.gathered" role="status">{{ job.message }}</p>
    <SortingList />
    <section v-if="shot.sorting?.remarks.length" class="remarks" aria-labelledby="remarks">
      <h3 id="remarks">What is odd about the stills</h3>
      <p v-for="said in shot.sorting.remarks" :key="said">{{ said }}</p>
    </section>
    <BesideList />
    <p v-if="!running && shot.openFindings.length">
      The check found
      <RouterLink :to="{ name: 'shot', params: { shot: shot.shot!.id, step: 'check' } }">{{
        countText(shot.openFindings.length, "thing")
      }}</RouterLink>
      to look at.
    </p>
    <div v-if="shot.shot!.gathered && shot.count">
      <Button
        label="Go on to fit"
        :class="{ 'main-action': !shot.sorting?.proposals.length }"
        severity="secondary"
        @click="next"
      />
    </div>
    <ShotTasks v-if="!running" />
  </div>
</template>

<style scoped>
.gather {
  display: grid;
  gap: 1rem;
  padding: 1.1rem;
}

.remarks {
  display: grid;
  gap: 0.5rem;
}

.remarks p {
  border-left: 3px solid var(--saffron);
  overflow-wrap: anywhere;
  padding-left: 0.6rem;
}

.job {
  align-items: center;
  display: grid;
  gap: 0.8rem;
  grid-template-columns: 1fr auto;
}

dl {
  border-bottom: 1px solid var(--hair);
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 0.3rem 0.9rem;
  grid-template-columns: auto 1fr;
  margin: 0;
  padding: 0.7rem 0;
}

dt {
  color: var(--soft-ink);
}

dd {
  margin: 0;
}

.path {
  overflow-wrap: anywhere;
}
</style>
