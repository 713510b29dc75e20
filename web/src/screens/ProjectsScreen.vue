<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { ref } from "vue";
import { useRouter } from "vue-router";

import { api, type Project } from "../api/client";
import { onTold } from "../api/events";
import { useRead } from "../api/queries";
import { useAttempt } from "../parts/sentences";

const router = useRouter();
const { answer: projects, refusal: unread, again } = useRead(() => ({ key: ["projects"], query: api.projects }));
const { refusal, attempt } = useAttempt();
const name = ref("");

const add = () =>
  attempt(async () => {
    const project = await api.addProject(name.value);
    await router.push({ name: "project", params: { project: project.id } });
  });

function picture(project: Project): string | undefined {
  if (!project.first_shot || !project.stills) return undefined;
  return `/api/shots/${project.first_shot}/middle.jpg?width=480`;
}

onTold("stills", () => void again());
</script>

<template>
  <main class="projects">
    <div class="column">
      <h1>Projects</h1>
      <p class="now">
        <RouterLink :to="{ name: 'now' }"><Button label="Make a clip now" class="main-action" as="span" /></RouterLink>
        <span class="quiet">Five questions, from a folder of stills to a finished clip; all steps stay open.</span>
      </p>
      <form class="new" @submit.prevent="add">
        <label for="project-name">A new project is called</label>
        <InputText id="project-name" v-model="name" maxlength="120" autofocus placeholder="Harbour in March" />
        <Button type="submit" label="Make it" severity="secondary" :disabled="!name.trim()" />
      </form>
      <p v-if="refusal || unread" class="warning" role="alert">{{ refusal || unread }}</p>
      <ul v-if="projects?.length" class="list">
        <li v-for="project in projects" :key="project.id">
          <RouterLink :to="{ name: 'project', params: { project: project.id } }">
            <span class="picture"><img v-if="picture(project)" :src="picture(project)" alt="" loading="lazy" /></span>
            <h2>{{ project.name }}</h2>
            <p class="quiet">
              {{ project.shots === 1 ? "one shot" : `${project.shots} shots` }},
              {{ project.stills.toLocaleString("en") }} stills
            </p>
          </RouterLink>
        </li>
      </ul>
      <p v-else-if="projects" class="quiet">No project yet. Name one above; then bring in the stills of a shot.</p>
      <p><RouterLink :to="{ name: 'space' }">What takes how much space, and what was deleted</RouterLink></p>
    </div>
  </main>
</template>

<style scoped>
.projects {
  overflow: auto;
  padding: 2.6rem 1.5rem;
}

.column {
  display: grid;
  gap: 1.4rem;
  margin: 0 auto;
  max-width: 60rem;
}

.now {
  align-items: center;
  display: flex;
  gap: 1rem;
}

.now a {
  text-decoration: none;
}

.new {
  align-items: center;
  display: flex;
  font-family: var(--heading);
  font-size: var(--type-lead);
  gap: 0.7rem;
}

.new input {
  flex: 1;
  font-size: var(--type-lead);
  max-width: 24rem;
}

.list {
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 1.6rem;
  grid-template-columns: repeat(3, 1fr);
  list-style: none;
  margin: 0;
  padding: 1.6rem 0 0;
}

.list a {
  color: inherit;
  display: grid;
  gap: 0.2rem;
  text-decoration: none;
}

.list a:hover h2 {
  text-decoration: underline;
}

.picture {
  aspect-ratio: 3 / 2;
  background: var(--shade);
  display: block;
  margin-bottom: 0.35rem;
  overflow: hidden;
}

.picture img {
  height: 100%;
  object-fit: cover;
  width: 100%;
}
</style>
