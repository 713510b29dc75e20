<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { useRouter } from "vue-router";

import { api } from "../../api/client";
import QualityControl from "./QualityControl.vue";
import JobLine from "../../queue/JobLine.vue";
import { useSentences } from "../../parts/sentences";
import { isUnderWay, useJobs } from "../../queue/jobs";
import { useShot } from "../../stores/shot";
import ClipCard from "./ClipCard.vue";

const shot = useShot();
const router = useRouter();
const jobs = useJobs();
const { refused } = useSentences();
const job = computed(() => jobs.latest(shot.shot!.id, "encode"));
const running = computed(() => isUnderWay(job.value));
const ready = computed(() => shot.shot!.gathered && shot.count > 0);

async function encode(): Promise<void> {
  if (!ready.value || running.value) return;
  try {
    await shot.encode();
  } catch (error) {
    refused(error);
  }
}

/** A reel of this shot alone: there it gets what lies over and under it. */
async function addSoundOrTitle(): Promise<void> {
  try {
    const made = await api.addReelOfShot(shot.shot!.id);
    await router.push({ name: "reel", params: { reel: made.id, room: "sound" } });
  } catch (error) {
    refused(error);
  }
}

defineExpose({ mainAction: encode });
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>Quality</h2>
      <QualityControl />
    </section>
    <section>
      <div v-if="job && running" class="running">
        <JobLine :job="job" />
        <Button label="Cancel" severity="secondary" size="small" @click="jobs.cancel(job)" />
      </div>
      <div v-else><Button label="Encode the clip" class="main-action" :disabled="!ready" @click="encode" /></div>
      <p v-if="!ready && !shot.shot!.gathered" class="quiet">Waits until all stills are gathered.</p>
      <p v-if="job?.state === 'failed'" class="warning" role="alert">{{ job.message }}</p>
      <p v-if="job?.state === 'cancelled'" class="quiet">Cancelled. What was rendered is kept: encode again and it goes on from there.</p>
    </section>
    <section>
      <p class="acts"><button type="button" class="plain-button" :disabled="!ready" @click="addSoundOrTitle">add sound or a title</button></p>
    </section>
    <section v-if="shot.clips.length" aria-label="Clips">
      <ClipCard v-for="clip in shot.clips" :key="clip.id" :clip="clip" @play="shot.played = clip" @gone="shot.open(shot.shot!.id)" />
    </section>
  </div>
</template>

<style src="../sheet.css"></style>
<style scoped>
.running {
  align-items: center;
  display: grid;
  gap: 0.8rem;
  grid-template-columns: 1fr auto;
}
</style>
