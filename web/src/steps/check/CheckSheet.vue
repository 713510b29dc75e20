<script setup lang="ts">
import Button from "primevue/button";
import { computed } from "vue";
import { useRouter } from "vue-router";

import { api } from "../../api/client";
import JobLine from "../../queue/JobLine.vue";
import { isUnderWay, useJobs } from "../../queue/jobs";
import { useShot } from "../../stores/shot";
import DustSection from "./DustSection.vue";
import FindingList from "./FindingList.vue";
import StillNote from "./StillNote.vue";
import StretchChoice from "./StretchChoice.vue";

const shot = useShot();
const jobs = useJobs();
const router = useRouter();
const how = computed(() => shot.decisions!.check.how);
const mends = computed(() => shot.decisions!.check.bridged.length + shot.decisions!.check.filled.length > 0);
const job = computed(() => {
  const latest = jobs.latest(shot.shot!.id, "check") ?? jobs.latest(shot.shot!.id, "gather");
  return latest && isUnderWay(latest) ? latest : undefined;
});
const said = computed(() => {
  const all = shot.check?.findings.length ?? 0;
  const open = shot.openFindings.length;
  if (!shot.check) return "Looking through the measures …";
  if (!all) {
    return shot.count < 12
      ? "A shot needs a dozen stills before one can be told from the others."
      : "Nothing was found that would show: no misfire, no soft still, no knock, no flicker, no step of light, no gap.";
  }
  if (!open) return "All that was found is settled.";
  return `${open === 1 ? "One thing" : `${open.toLocaleString("en")} things`} to look at, worst first. What is done here can be undone.`;
});

function next(): void {
  void router.push({ name: "shot", params: { shot: shot.shot!.id, step: "light" } });
}

defineExpose({ mainAction: next });
</script>

<template>
  <div class="sheet-column">
    <section>
      <h2>{{ shot.check && !shot.check.findings.length ? "Nothing found" : "What was found" }}</h2>
      <p role="status">{{ said }}</p>
      <JobLine v-if="job" :job="job" />
      <p v-else-if="shot.check?.measuring" class="quiet">Neighbours are still being compared; more may be found.</p>
    </section>
    <FindingList />
    <section v-if="mends" role="radiogroup" aria-label="How stills are bridged">
      <h3>Bridging</h3>
      <label
        v-for="(words, way) in {
          blend: 'blends the stills on either side',
          motion: 'moves what moves to where it would be',
        }"
        :key="way"
      >
        <input
          type="radio"
          name="bridging"
          :checked="how === way"
          @change="shot.change((id, seen) => api.bridgeHow(id, seen, way))"
        />
        {{ words }}
      </label>
    </section>
    <DustSection />
    <StretchChoice />
    <StillNote />
    <div class="go-on">
      <Button
        label="Go on to light"
        :class="{ 'main-action': !shot.openFindings.length }"
        severity="secondary"
        @click="next"
      />
    </div>
  </div>
</template>

<style src="../sheet.css"></style>
