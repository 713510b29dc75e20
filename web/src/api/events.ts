import { onScopeDispose, ref } from "vue";

import type { Job } from "./client";

interface Told {
  job: Job;
  stills: { shot_id: number };
  reel: { id: number };
  sizes: { frames: string };
  capture: { job_id: number; shot_id?: number };
  queue: null;
  disks: null;
  connected: null;
  back: null;
}

type Hearers = { [Name in keyof Told]: Set<(data: Told[Name]) => void> };

const hearers: Hearers = {
  job: new Set(),
  stills: new Set(),
  reel: new Set(),
  sizes: new Set(),
  capture: new Set(),
  queue: new Set(),
  disks: new Set(),
  connected: new Set(),
  back: new Set(),
};

/** Whether the program is heard from; false while the connection is broken and being tried again. */
export const connected = ref(true);

let source: EventSource | undefined;
let reopening: number | undefined;

function open(): void {
  reopening = undefined;
  source?.close();
  source = new EventSource("/api/events");
  source.addEventListener("hello", () => {
    const wasAway = !connected.value;
    connected.value = true;
    hearers.connected.forEach((hear) => hear(null));
    if (wasAway) hearers.back.forEach((hear) => hear(null));
  });
  source.addEventListener("job", (event) => {
    const job = JSON.parse(event.data) as Job;
    hearers.job.forEach((hear) => hear(job));
  });
  source.addEventListener("stills", (event) => {
    const told = JSON.parse(event.data) as Told["stills"];
    hearers.stills.forEach((hear) => hear(told));
  });
  source.addEventListener("reel", (event) => {
    const told = JSON.parse(event.data) as Told["reel"];
    hearers.reel.forEach((hear) => hear(told));
  });
  source.addEventListener("sizes", (event) => {
    const told = JSON.parse(event.data) as Told["sizes"];
    hearers.sizes.forEach((hear) => hear(told));
  });
  source.addEventListener("capture", (event) => {
    const told = JSON.parse(event.data) as Told["capture"];
    hearers.capture.forEach((hear) => hear(told));
  });
  source.addEventListener("queue", () => hearers.queue.forEach((hear) => hear(null)));
  source.addEventListener("disks", () => hearers.disks.forEach((hear) => hear(null)));
  source.onerror = () => {
    connected.value = false;
    if (source?.readyState === EventSource.CLOSED) openSoon();
  };
}

/**
 * Connect anew after a while, as one does whose question went unanswered; all who hear of the connection are told then.
 */
export function openSoon(): void {
  connected.value = false;
  reopening ??= window.setTimeout(open, 2000);
}

/** Wait until the program, of which a question went unanswered, is heard from again. */
export function answersAgain(): Promise<void> {
  openSoon();
  return new Promise((heard) => {
    const hear = () => {
      hearers.back.delete(hear);
      heard();
    };
    hearers.back.add(hear);
  });
}

/** Have something done whenever the program is heard from again, for as long as the page is open. */
export function onBack(hear: () => void): void {
  hearers.back.add(hear);
}

/** Hear what the server tells, for as long as the component lives. */
export function onTold<Name extends keyof Told>(name: Name, hear: (data: Told[Name]) => void): void {
  if (!source) open();
  hearers[name].add(hear as never);
  onScopeDispose(() => hearers[name].delete(hear as never));
}
