<script setup lang="ts">
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";

import { api } from "../api/client";
import { onTold } from "../api/events";
import { useRead } from "../api/queries";
import AskFirst from "../parts/AskFirst.vue";
import { useAttempt, useSentences } from "../parts/sentences";
import { countText } from "../parts/wording";
import { useHead } from "../stores/head";
import { useProject } from "../stores/project";
import BringIn from "../steps/gather/BringIn.vue";
import OffloadList from "../steps/gather/OffloadList.vue";
import LostStills from "./LostStills.vue";
import ProjectShots from "./ProjectShots.vue";

const props = defineProps<{ projectId: number }>();

const store = useProject();
const { refusal, attempt } = useAttempt();
const router = useRouter();
const {
  answer: lost,
  refusal: lostUnread,
  again: lookForLost,
} = useRead(() => ({ key: ["project", props.projectId, "lost"], query: () => api.lost(props.projectId) }));
const {
  answer: reels,
  refusal: reelsUnread,
  again: lookForReels,
} = useRead(() => ({ key: ["project", props.projectId, "reels"], query: () => api.reels(props.projectId) }));
const {
  answer: treatments,
  refusal: treatmentsUnread,
  again: lookForTreatments,
} = useRead(() => ({
  key: ["project", props.projectId, "treatments"],
  query: () => api.treatments(props.projectId),
}));
const { said } = useSentences();
const picker = ref<HTMLInputElement>();
const asking = ref(false);
/** What comes a moment later would move what stands below it. */
const isKnown = computed(() =>
  Boolean((reels.value || reelsUnread.value) && (treatments.value || treatmentsUnread.value)),
);
const shots = computed(() => store.project?.shots ?? []);

function load(): Promise<void> {
  return attempt(async () => {
    await store.load(props.projectId);
  });
}

function makeReel(): Promise<void> {
  return attempt(async () => {
    const name = reels.value?.length ? `Reel ${reels.value.length + 1}` : "Reel";
    const made = await api.addReel(
      props.projectId,
      name,
      shots.value.filter((shot) => shot.stills).map((shot) => shot.id),
    );
    await router.push({ name: "reel", params: { reel: made.id } });
  });
}

async function readReel(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = "";
  if (!file) return;
  await attempt(async () => {
    const made = await api.readReel(props.projectId, await file.text());
    if (made.left_out.length) said(made.left_out.join(" "));
    await router.push({ name: "reel", params: { reel: made.reel } });
  });
}

function remove(): Promise<void> {
  return attempt(async () => {
    await api.deleteProject(props.projectId);
    await router.push({ name: "projects" });
  });
}

async function lookAgain(): Promise<void> {
  await Promise.all([load(), lookForLost(), lookForReels(), lookForTreatments()]);
}

watch(() => props.projectId, load, { immediate: true });
onTold("job", (job) => job.project_id === props.projectId && job.state === "finished" && void lookAgain());
onTold("back", () => void load());
useHead(() => store.project && { project: store.project });

function bringIn(): void {
  const place = document.getElementById("bring-in");
  place?.scrollIntoView({ block: "start" });
  place?.focus();
}
</script>

<template>
  <main class="project">
    <div class="column">
      <p v-if="refusal || lostUnread || reelsUnread || treatmentsUnread" class="warning" role="alert">
        {{ refusal || lostUnread || reelsUnread || treatmentsUnread }}
      </p>
      <template v-if="store.project && isKnown">
        <h1>{{ store.project.name }}</h1>
        <nav aria-label="What to do in this project">
          <a v-if="shots.length" href="#bring-in" @click.prevent="bringIn">bring in stills or film</a>
          <RouterLink :to="{ name: 'card', params: { project: projectId } }">empty a card safely</RouterLink>
          <RouterLink :to="{ name: 'plan', params: { project: projectId } }">plan shots</RouterLink>
          <RouterLink :to="{ name: 'capture', params: { project: projectId } }">shoot with a camera here</RouterLink>
          <button v-if="shots.length" type="button" class="plain-button" @click="makeReel">
            make a reel of {{ shots.length === 1 ? "this shot" : "these shots" }}
          </button>
        </nav>
        <LostStills v-if="lost?.length" :project-id="projectId" :lost="lost" @found="lookAgain" />
        <ProjectShots
          v-if="shots.length"
          :project="store.project"
          :treatments="treatments ?? []"
          :changed="lookAgain"
        />
        <section v-if="shots.length" class="reels" aria-label="Reels">
          <h2>Reels</h2>
          <RouterLink v-for="reel in reels" :key="reel.id" :to="{ name: 'reel', params: { reel: reel.id } }">
            <h3>{{ reel.name }}</h3>
            <p>{{ reel.brief }}</p>
          </RouterLink>
          <p v-if="reels?.length === 0" class="quiet">
            A reel puts shots one after another or beside each other, with titles and sound, into one video.
          </p>
          <p class="acts">
            <button type="button" class="plain-button" @click="picker?.click()">read one from OpenTimelineIO …</button>
          </p>
          <input
            ref="picker"
            type="file"
            accept=".otio,application/json"
            hidden
            aria-label="An OpenTimelineIO file"
            @change="readReel"
          />
        </section>
        <OffloadList :project-id="projectId" @made="load" />
        <BringIn :project-id="projectId" :first="!shots.length" @several="load" />
        <p class="delete">
          <button type="button" class="plain-button" @click="asking = true">delete this project …</button>
        </p>
        <AskFirst v-model="asking" :question="`Delete “${store.project.name}”?`" yes="Delete the project" @yes="remove">
          <p>
            {{ countText(shots.length, "shot") }} with all decisions, clips and copied stills go. You can take the
            project back for 30 days, under Space. Stills in folders of their own stay where they are.
          </p>
        </AskFirst>
      </template>
    </div>
  </main>
</template>

<style scoped>
.project {
  overflow: auto;
  padding: 2rem 1.5rem;
}

.column {
  display: grid;
  gap: 1.5rem;
  margin: 0 auto;
  max-width: 68rem;
}

nav {
  align-items: baseline;
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.4rem;
  margin-top: -0.9rem;
}

nav button {
  color: var(--line);
  padding: 0;
  text-decoration: underline;
}

.reels {
  display: grid;
}

.reels a {
  border-top: 1px solid var(--hair);
  color: inherit;
  padding: 0.6rem 0;
  text-decoration: none;
}

.reels a:hover h3 {
  text-decoration: underline;
}

.reels h2 {
  margin-bottom: 0.5rem;
}

.reels .acts {
  margin-top: 0.4rem;
}

.delete {
  border-top: 1px solid var(--hair);
  color: var(--line);
  margin-left: -0.3rem;
  padding-top: 0.9rem;
}
</style>
