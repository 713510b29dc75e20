<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref } from "vue";

import { api, type Space } from "../api/client";
import { useRead } from "../api/queries";
import AskFirst from "../parts/AskFirst.vue";
import { bytesText } from "../parts/wording";
import { useAttempt } from "../parts/sentences";
import { allOf, deletedOf, holds, madeAgain, type What } from "./space";

const { refusal, attempt } = useAttempt();
const {
  answer: space,
  refusal: unread,
  again: load,
  show,
} = useRead<Space>(() => ({ key: ["space"], query: api.space }));
const busy = ref(false);
const asking = ref(false);

const again = computed(() => (space.value ? madeAgain(space.value) : []));
const inProjects = computed(() => (space.value?.projects ?? []).filter((one) => allOf(one) > 0));
const deleted = computed(() => (space.value ? deletedOf(space.value) : []));
const most = computed(() => Math.max(1, ...inProjects.value.map(allOf), ...again.value.map((row) => row.bytes)));

async function free(what: What): Promise<void> {
  busy.value = true;
  await attempt(async () => show(await api.freeSpace(what)));
  busy.value = false;
}

function takeBack(kind: "project" | "shot" | "reel", id: number): Promise<void> {
  const back = { project: api.takeProjectBack, shot: api.takeShotBack, reel: api.takeReelBack }[kind];
  return attempt(async () => {
    await back(id);
    await load();
  });
}

function day(text: string): string {
  return new Date(text.endsWith("Z") ? text : `${text}Z`).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "long",
    year: "numeric",
  });
}

function width(bytes: number): string {
  return `${(100 * bytes) / most.value}%`;
}
</script>

<template>
  <main class="space">
    <div class="column">
      <h1>Space</h1>
      <p v-if="refusal || unread" class="warning" role="alert">{{ refusal || unread }}</p>
      <template v-if="space">
        <p class="lead">
          <span class="number">{{ bytesText(space.free) }}</span> are free on the disk. Stills that lie in folders of
          their own are not counted here and never touched.
        </p>
        <section v-if="inProjects.length" aria-labelledby="space-projects">
          <h2 id="space-projects">Projects</h2>
          <p class="quiet">
            Clips are deleted one by one at encode, a shot at gather, sounds and reels in a reel, a project on its page.
          </p>
          <ul>
            <li v-for="project in inProjects" :key="project.id">
              <RouterLink :to="{ name: 'project', params: { project: project.id } }">{{ project.name }}</RouterLink>
              <span class="bar" aria-hidden="true">
                <i class="stills" :style="{ width: width(project.stills) }"></i
                ><i class="clips" :style="{ width: width(project.clips + project.sounds) }"></i>
              </span>
              <span class="number">{{ bytesText(allOf(project)) }}</span>
              <span class="quiet wide">{{ holds(project) }}</span>
            </li>
          </ul>
        </section>
        <section aria-labelledby="space-again">
          <h2 id="space-again">Made again when needed</h2>
          <ul>
            <li v-for="row in again" :key="row.what">
              <span>{{ row.words }}</span>
              <span class="bar" aria-hidden="true"><i class="again" :style="{ width: width(row.bytes) }"></i></span>
              <span class="number">{{ row.bytes ? bytesText(row.bytes) : "nothing" }}</span>
              <span v-if="row.bytes" class="quiet wide">{{ row.after }}</span>
              <Button
                v-if="row.freed"
                class="free"
                severity="secondary"
                :label="`Free ${bytesText(row.freed)}`"
                :aria-label="`Free ${bytesText(row.freed)} of: ${row.words}`"
                :disabled="busy"
                @click="free(row.what)"
              />
            </li>
          </ul>
        </section>
        <section aria-labelledby="space-deleted">
          <h2 id="space-deleted">Deleted</h2>
          <p v-if="!deleted.length" class="quiet">
            Nothing. What you delete is kept here for 30 days and can be taken back.
          </p>
          <ul v-else>
            <li v-for="one in deleted" :key="`${one.kind} ${one.id}`">
              <span class="wide">{{ one.words }}, until {{ day(one.until) }}</span>
              <Button
                class="free"
                severity="secondary"
                label="Take back"
                :aria-label="`Take back ${one.words}`"
                @click="takeBack(one.kind, one.id)"
              />
            </li>
          </ul>
          <Button
            v-if="deleted.length"
            severity="secondary"
            :label="`Free ${bytesText(space.deleted)} of what is deleted …`"
            :disabled="busy"
            @click="asking = true"
          />
        </section>
      </template>
    </div>
    <AskFirst v-model="asking" question="Free it for good?" yes="Free it for good" @yes="free('deleted')">
      <p>
        What is deleted goes now, with its copied stills, clips and decisions, and cannot be taken back any more. Stills
        in folders of their own stay where they are.
      </p>
    </AskFirst>
  </main>
</template>

<style scoped>
.space {
  overflow: auto;
  padding: 2rem 1.5rem;
}

.column {
  display: grid;
  gap: 1.6rem;
  margin: 0 auto;
  max-width: 60rem;
}

.lead {
  font-family: var(--heading);
  font-size: var(--type-lead);
  max-width: 44rem;
}

section {
  display: grid;
  gap: 0.5rem;
  justify-items: start;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}

li {
  align-items: center;
  border-top: 1px solid var(--hair);
  column-gap: 1.2rem;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 11rem 6rem 10rem;
  padding: 0.6rem 0;
}

li > .number {
  text-align: right;
}

.wide {
  grid-column: 1 / 4;
}

.free {
  grid-column: 4;
  grid-row: 1 / 3;
  justify-self: end;
}

.bar {
  background: var(--shade);
  display: flex;
  height: 0.6rem;
}

.bar i {
  background: var(--line);
  display: block;
}

.bar .clips {
  background: repeating-linear-gradient(135deg, var(--line) 0 2px, transparent 2px 4px);
}

.bar .again {
  background: var(--soft-ink);
}
</style>
