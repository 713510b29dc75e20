<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";

import { api, type Folder, type Lost } from "../api/client";
import LocationBrowser from "../files/LocationBrowser.vue";
import { useAttempt } from "../parts/sentences";
import { countText } from "../parts/wording";
import { useJobs } from "../queue/jobs";

const props = defineProps<{ projectId: number; lost: Lost[] }>();

const jobs = useJobs();
const folder = ref<Folder>();
const looking = ref(false);
const { refusal, attempt } = useAttempt();
const ended = computed(() => jobs.all.find((job) => job.project_id === props.projectId && job.kind === "find"));

function find(): Promise<void> {
  return attempt(async () => {
    await api.find(props.projectId, folder.value!.location, folder.value!.path);
  });
}
</script>

<template>
  <section class="lost" aria-labelledby="lost">
    <h2 id="lost">Files are not where they were</h2>
    <ul>
      <li v-for="one in lost" :key="one.shot_id">
        {{ countText(one.lost, "still") }} of <strong>{{ one.name }}</strong> {{ one.lost === 1 ? "is" : "are" }} no
        longer in <span class="path">{{ one.folder }}</span>, beginning with
        <span class="number">{{ one.first }}</span>.
      </li>
    </ul>
    <p v-if="ended?.message" class="warning" role="status">{{ ended.message }}</p>
    <Button v-if="!looking" label="Show where they are now …" severity="secondary" @click="looking = true" />
    <div v-else class="where">
      <LocationBrowser v-model="folder" />
      <Button
        :label="folder ? `Look in ${folder.path.split('/').at(-1) || folder.location}` : 'Look here'"
        class="main-action"
        :disabled="!folder"
        @click="find"
      />
    </div>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </section>
</template>

<style scoped>
.lost {
  background: var(--saffron-pale);
  border-left: 4px solid var(--saffron);
  display: grid;
  gap: 0.7rem;
  justify-items: start;
  padding: 1rem 1.2rem;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

.path {
  overflow-wrap: anywhere;
}

.where {
  display: grid;
  gap: 0.7rem;
  justify-items: start;
  width: min(32rem, 100%);
}

.where > :first-child {
  width: 100%;
}
</style>
