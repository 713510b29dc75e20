<script setup lang="ts">
import { computed, ref, watch } from "vue";

import type { ProjectDetail, Treatment } from "../api/client";
import JobLine from "../queue/JobLine.vue";
import { useJobs } from "../queue/jobs";
import ManyShots from "./ManyShots.vue";
import TreatmentList from "./TreatmentList.vue";

/** The shots of a project: each leads to its steps, and those that are ticked are worked on together. */
const props = defineProps<{ project: ProjectDetail; treatments: Treatment[]; changed: () => Promise<void> }>();

const jobs = useJobs();
const ticked = ref<number[]>([]);
const shots = computed(() => props.project.shots);

function gathering(shot: number) {
  return jobs.underWay.find((job) => job.shot_id === shot && job.kind !== "encode");
}

watch(
  () => props.project.id,
  () => (ticked.value = []),
);
// A shot that is gone is ticked no more.
watch(shots, (there) => {
  const left = ticked.value.filter((one) => there.some((shot) => shot.id === one));
  if (left.length < ticked.value.length) ticked.value = left;
});
</script>

<template>
  <section class="shots" aria-label="Shots">
    <div v-for="shot in shots" :key="shot.id" class="shot" :class="{ ticked: ticked.includes(shot.id) }">
      <label v-if="shots.length > 1" class="tick">
        <input v-model="ticked" type="checkbox" :value="shot.id" :aria-label="`tick ${shot.name}`" />
      </label>
      <RouterLink :to="{ name: 'shot', params: { shot: shot.id, step: shot.gathered ? 'fit' : 'gather' } }">
        <span class="picture"
          ><img v-if="shot.stills" :src="`/api/shots/${shot.id}/middle.jpg?width=480`" alt="" loading="lazy"
        /></span>
        <div>
          <h2>{{ shot.name }}</h2>
          <JobLine v-if="gathering(shot.id)" :job="gathering(shot.id)!" />
          <p v-else>{{ shot.brief }}</p>
        </div>
      </RouterLink>
    </div>
    <p v-if="shots.length > 1 && !ticked.length" class="quiet hint">
      Tick shots to treat them alike, or to have their clips made in one go.
    </p>
  </section>
  <ManyShots v-if="ticked.length" :project="project" :ticked="ticked" :changed="changed" @tick="ticked = $event" />
  <TreatmentList v-if="treatments.length" :project-id="project.id" :treatments="treatments" :changed="changed" />
</template>

<style scoped>
.shots {
  display: grid;
}

.shot {
  align-items: center;
  border-top: 1px solid var(--hair);
  display: flex;
}

.tick {
  align-items: center;
  align-self: stretch;
  cursor: pointer;
  display: flex;
  padding: 0 1rem 0 0.3rem;
}

.ticked {
  background: var(--bright-paper);
}

.hint {
  border-top: 1px solid var(--hair);
  padding-top: 0.6rem;
}

.shots a {
  align-items: center;
  color: inherit;
  flex: 1;
  display: grid;
  gap: 1.3rem;
  grid-template-columns: 168px 1fr;
  padding: 0.8rem 0;
  text-decoration: none;
}

.shots a:hover h2 {
  text-decoration: underline;
}

.shots h2 {
  margin-bottom: 0.25rem;
}

.picture {
  aspect-ratio: 3 / 2;
  background: var(--shade);
  overflow: hidden;
}

.picture img {
  display: block;
  height: 100%;
  object-fit: cover;
  width: 100%;
}
</style>
