import { ref, type Ref } from "vue";

import { api, Problem, type Capture, type PlannedShot } from "../../api/client";

/** What is wished of a shoot, as it is typed. */
export interface Wish {
  name: string;
  camera: string;
  interval: string;
  ending: "count" | "span" | "until";
  count: number;
  span: string;
  until: string;
  starts: string;
  follow: boolean;
  /** The most an exposure may take of the interval, in percent. */
  most: number;
}

export function useWish(): Ref<Wish> {
  return ref<Wish>({
    name: "A shot",
    camera: "",
    interval: "5 s",
    ending: "count",
    count: 300,
    span: "25 min",
    until: "",
    starts: "",
    follow: false,
    most: 50,
  });
}

/** Wish for what was planned. */
export function asPlanned(wish: Wish, planned: PlannedShot): void {
  wish.name = planned.name;
  wish.interval = `${planned.interval_ms / 1000} s`;
  wish.count = planned.stills;
}

/** The times of day that were typed, as the next moment the clock shows them. */
function moment(clock: string): string | null {
  if (!clock) return null;
  const at = new Date();
  const [hours = 0, minutes = 0, seconds = 0] = clock.split(":").map(Number);
  at.setHours(hours, minutes, seconds, 0);
  if (at.getTime() < Date.now() - 1000) at.setDate(at.getDate() + 1);
  return at.toISOString();
}

/** Return what is wished as the program takes it; an end that is not said is a refusal. */
export async function captureOf(wish: Wish): Promise<Capture> {
  const begins = moment(wish.starts);
  let span_s: number | null = null;
  if (wish.ending === "span") span_s = (await api.duration(wish.span)).seconds;
  if (wish.ending === "until") {
    const end = moment(wish.until);
    if (!end) throw new Problem("no_end", 0, "Say at what time it shall end.");
    span_s = Math.max(1, (Date.parse(end) - (begins ? Date.parse(begins) : Date.now())) / 1000);
  }
  return {
    camera: wish.camera,
    interval_ms: Math.round((await api.duration(wish.interval)).seconds * 1000),
    count: wish.ending === "count" ? wish.count : null,
    span_s,
    starts_at: begins,
    follow: wish.follow,
    most_exposure: wish.most / 100,
  };
}
