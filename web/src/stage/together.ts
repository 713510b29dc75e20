import { defineStore } from "pinia";
import { computed, ref, watch } from "vue";

import { api, Problem, type Job } from "../api/client";
import { useFrames } from "./frames";
import { isUnderWay, useJobs } from "../queue/jobs";
import { isStack, useViewModes } from "./viewModes";
import { useShot } from "../stores/shot";

/** What many stills have in common: whether it is put together, and if not, how far the job is that does it. */
export const useTogether = defineStore("together", () => {
  const shot = useShot();
  const modes = useViewModes();
  const frames = useFrames();
  const jobs = useJobs();
  const ready = ref("");
  const jobId = ref<number>();
  const refusal = ref("");

  /** What is wanted, by all that decides which stills it is made of; nothing while no such picture is looked at. */
  const wanted = computed(() => {
    if (!shot.shot || !shot.count || (!isStack(modes.mode) && frames.under === "still")) return "";
    const { first, last } = modes.stretch;
    return `${shot.shot.id} ${first} ${last} ${shot.state} ${shot.decisions?.check.aside.join(" ") ?? ""}`;
  });
  const isReady = computed(() => wanted.value !== "" && ready.value === wanted.value);
  const job = computed<Job | undefined>(() => jobs.all.find((one) => one.id === jobId.value));

  async function ask(): Promise<void> {
    const asked = wanted.value;
    if (!asked || ready.value === asked) return;
    const { first, last } = modes.stretch;
    refusal.value = "";
    jobId.value = undefined;
    try {
      const answer = await api.together(shot.shot!.id, first, last);
      if (wanted.value !== asked) return;
      if (answer.ready) ready.value = asked;
      else jobId.value = answer.job?.id;
    } catch (error) {
      if (wanted.value === asked)
        refusal.value = error instanceof Problem ? error.message : "This cannot be put together now.";
    }
  }

  async function cancel(): Promise<void> {
    if (job.value && isUnderWay(job.value)) await jobs.cancel(job.value);
  }

  watch(wanted, () => void ask(), { immediate: true });
  watch(
    () => job.value?.state,
    (state) => state === "finished" && void ask(),
  );
  return { isReady, job, refusal, ask, cancel };
});
