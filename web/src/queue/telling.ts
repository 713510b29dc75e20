import { ref } from "vue";

import type { Job } from "../api/client";

/** What takes at least so long is told of by the browser, wherever a person is by then. */
const longMs = 20_000;

const titles: Record<Job["kind"], (name: string) => string> = {
  gather: (name) => `${name} is gathered`,
  footage: (name) => `The stills of ${name} are taken`,
  find: (name) => `The stills of ${name} were looked for`,
  export: (name) => `The files of ${name} are written`,
  check: (name) => `${name} is checked`,
  encode: (name) => `${name} is encoded`,
  together: (name) => `Stills of ${name} are put together`,
  move: (name) => `The movement of ${name} is measured`,
  sound: (name) => `A sound for ${name} is taken in`,
  reel: (name) => `${name} is encoded`,
  size: (name) => `The sizes of ${name} are measured`,
  watch: (name) => `The folder of ${name} is not watched any more`,
  capture: (name) => `${name} is shot`,
  offload: (name) => `${name} is copied`,
};

const known = typeof Notification !== "undefined";
/** Whether the browser may tell. */
export const tells = ref(known && Notification.permission === "granted");
const began = new Map<number, number>();

export async function askToTell(): Promise<void> {
  if (known) tells.value = (await Notification.requestPermission()) === "granted";
}

/** Have the browser say that something long has ended, or an encode, however long it took. */
export function tellOf(job: Job, before: Job | undefined): void {
  if (isUnderWay(job)) {
    if (!began.has(job.id)) began.set(job.id, performance.now());
    return;
  }
  const since = began.get(job.id);
  began.delete(job.id);
  if (!isUnderWay(before) || !tells.value || (job.state !== "finished" && job.state !== "failed")) return;
  const isEncode = job.kind === "encode" || job.kind === "reel";
  if (!isEncode && (since === undefined || performance.now() - since < longMs)) return;
  const frames = isEncode ? `${job.total.toLocaleString("en")} frames` : "";
  if (job.state === "finished") new Notification(titles[job.kind](job.shot_name), { body: job.message || frames });
  else new Notification(`${job.shot_name}: not done`, { body: job.message });
}

export function isUnderWay(job: Job | undefined): boolean {
  return job?.state === "waiting" || job?.state === "running";
}
