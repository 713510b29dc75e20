<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { useRouter } from "vue-router";

import { api } from "../../api/client";
import JobLine from "../../parts/JobLine.vue";
import { useSentences } from "../../parts/sentences";
import { isUnderWay, useJobs } from "../../stores/jobs";
import { useShot } from "../../stores/shot";

const shot = useShot();
const jobs = useJobs();
const router = useRouter();
const { refused } = useSentences();
const job = computed(() => jobs.latest(shot.shot!.id, "gather"));
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
      <p class="look">{{ job?.message || "Not all stills were read." }}</p>
      <Button label="Go on gathering" severity="secondary" @click="goOn" />
    </div>
    <dl>
      <dt>Folder</dt>
      <dd class="path">{{ shot.shot!.folder }}</dd>
      <dt>Files</dt>
      <dd>{{ shot.shot!.copied ? "copied into this project" : "stay where they are" }}</dd>
    </dl>
    <section v-if="shot.stills.left_out.length" class="left-out">
      <h3>
        Left out: {{ shot.stills.left_out.length.toLocaleString("en") }}
        {{ shot.stills.left_out.length === 1 ? "file" : "files" }}
      </h3>
      <ul>
        <li v-for="file in shot.stills.left_out" :key="file.name" :title="file.name">{{ file.reason }}</li>
      </ul>
    </section>
    <div v-if="shot.shot!.gathered && shot.count">
      <Button label="Go on to fit" class="main-action" @click="next" />
    </div>
  </div>
</template>

<style scoped>
.gather {
  display: grid;
  gap: 1rem;
  padding: 1.1rem;
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

.left-out ul {
  display: grid;
  gap: 0.5rem;
  list-style: none;
  margin: 0.5rem 0 0;
  max-height: 18rem;
  overflow: auto;
  padding: 0;
}

.left-out li {
  border-left: 3px solid var(--saffron);
  overflow-wrap: anywhere;
  padding-left: 0.6rem;
}
</style>
