import { defineStore } from "pinia";
import { computed, ref } from "vue";

import { api, type Job } from "../api/client";
import { onTold } from "../api/events";
import { isUnderWay, tellOf } from "./telling";

export { isUnderWay };

/** All recent jobs, kept up to date by the server's events. */
export const useJobs = defineStore("jobs", () => {
  const byId = ref(new Map<number, Job>());
  const all = computed(() => [...byId.value.values()].sort((a, b) => b.id - a.id));
  const underWay = computed(() => all.value.filter((job) => isUnderWay(job)));

  async function load(): Promise<void> {
    for (const job of await api.jobs()) {
      tellOf(job, byId.value.get(job.id));
      byId.value.set(job.id, { ...job, seconds_to_go: byId.value.get(job.id)?.seconds_to_go });
    }
  }

  function latest(shot: number, kind: Job["kind"]): Job | undefined {
    return all.value.find((job) => job.shot_id === shot && job.kind === kind);
  }

  /** The jobs of a reel of a kind, the newest first. */
  function ofReel(reel: number, kind: Job["kind"]): Job[] {
    return all.value.filter((job) => job.reel_id === reel && job.kind === kind);
  }

  async function cancel(job: Job): Promise<void> {
    byId.value.set(job.id, await api.cancel(job.id));
  }

  async function pause(job: Job): Promise<void> {
    byId.value.set(job.id, await api.pauseJob(job.id));
  }

  async function goOn(job: Job): Promise<void> {
    byId.value.set(job.id, await api.goOnWithJob(job.id));
  }

  onTold("connected", () => void load());
  onTold("job", (job) => {
    tellOf(job, byId.value.get(job.id));
    byId.value.set(job.id, job);
  });
  return { all, underWay, latest, ofReel, load, cancel, pause, goOn };
});
