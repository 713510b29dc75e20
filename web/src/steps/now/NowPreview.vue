<script setup lang="ts">
import { computed, ref } from "vue";

import { addresses } from "../../api/client";
import JobLine from "../../queue/JobLine.vue";
import { questions, titles, type useNow } from "./now";

/** What the clip will be as far as the questions are answered, its making, and the clip. */
const { now } = defineProps<{ now: ReturnType<typeof useNow> }>();
const { clip, clips, started, tried, shotId, picture, job, making, gathered, stage, reel } = now;

const watched = ref(0);
const shown = computed(() => (clip.value ? clips.value[watched.value] : undefined));

const stages: Record<string, string> = {
  measuring: "Measuring how the camera moved",
  sound: "Bringing the music in",
  encoding: "Encoding and comparing every frame",
};
</script>

<template>
  <section class="preview" aria-label="What it will be">
    <p class="sentence" role="status">
      {{ clip ? "" : (tried?.sentence ?? (shotId ? "" : "The clip appears here as the questions are answered.")) }}
      <template v-if="shown"
        >{{ clips.length > 1 ? `${clips.length} clips are done.` : "The clip is done:" }}
        {{ shown.evidence || "verified" }}</template
      >
    </p>
    <video v-if="shown" :src="addresses.clip(shown.id)" controls :poster="addresses.poster(shown.id, 0)"></video>
    <div v-else class="mat">
      <img v-if="picture" :src="picture" alt="The middle frame as it will be" />
      <ol v-else-if="!shotId" class="to-come">
        <li v-for="question in questions" :key="question">{{ titles[question] }}</li>
      </ol>
    </div>
    <div class="under">
      <template v-if="job && (making || !gathered)">
        <span v-if="making"
          ><template v-if="started.length > 1">{{ clips.length + 1 }} of {{ started.length }}: </template
          >{{ stages[stage] }}</span
        >
        <JobLine :job="job" />
      </template>
      <p v-if="clips.length > 1 && clip" class="acts" role="group" aria-label="Which clip is shown">
        <button
          v-for="(one, place) in clips"
          :key="one.id"
          type="button"
          class="choice"
          :aria-pressed="watched === place"
          @click="watched = place"
        >
          {{ one.name }}
        </button>
      </p>
      <p v-if="shown" class="acts">
        <a :href="addresses.download(shown.id)" download>save the file</a>
        <RouterLink v-if="reel && clips.length === 1" :to="{ name: 'reel', params: { reel, tab: 'finish' } }"
          >open the reel</RouterLink
        >
        <RouterLink :to="{ name: 'shot', params: { shot: started[watched]!.shot_id, step: 'fit' } }"
          >open all steps of the shot</RouterLink
        >
      </p>
      <p v-else-if="shotId" class="quiet">
        Nothing here is final:
        <RouterLink :to="{ name: 'shot', params: { shot: shotId, step: 'fit' } }">all steps of this shot</RouterLink>
        are open.
      </p>
    </div>
  </section>
</template>

<style scoped>
.preview {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
}

.sentence {
  font-family: var(--heading);
  font-size: var(--type-lead);
  line-height: 1.38;
  min-height: 4.6rem;
  padding: 0.8rem 1.1rem;
}

.mat {
  align-items: center;
  background: var(--mat-plain);
  display: grid;
  justify-items: center;
  min-height: 0;
  padding: 1.2rem;
}

.mat img,
video {
  max-height: 100%;
  max-width: 100%;
  min-height: 0;
}

.under {
  display: grid;
  gap: 0.3rem;
  min-height: 3.6rem;
  padding: 0.7rem 1.1rem;
}

.to-come {
  background: var(--bright-paper);
  display: grid;
  font-family: var(--heading);
  font-size: var(--type-lead);
  gap: 0.3rem;
  margin: 0;
  padding: 1rem 1.6rem 1rem 2.4rem;
}
</style>
