import { beforeEach, expect, test, vi } from "vitest";

import type { Job } from "../src/api/client";

const shown: { title: string; body: string }[] = [];

class Told {
  static permission = "granted";
  constructor(title: string, { body }: { body: string }) {
    shown.push({ title, body });
  }
}

vi.stubGlobal("Notification", Told);
const { tellOf } = await import("../src/queue/telling");

function job(id: number, kind: Job["kind"], state: Job["state"], message = ""): Job {
  return {
    ...{ id, kind, state, message, shot_id: 1, reel_id: null, shot_name: "Weir", project_id: 1 },
    ...{ done: 250, total: 250, created_at: "2031-05-04T19:00:00", seconds_to_go: null, clip_id: null },
  } as Job;
}

/** Let a job run for so many milliseconds, as the events tell of it. */
function ran(id: number, kind: Job["kind"], ms: number, ends: Job["state"] = "finished", message = ""): void {
  const running = job(id, kind, "running");
  tellOf(running, undefined);
  vi.advanceTimersByTime(ms);
  tellOf(running, running);
  tellOf(job(id, kind, ends, message), running);
}

beforeEach(() => {
  shown.length = 0;
  vi.useFakeTimers({ toFake: ["performance"] });
});

test("what took long is told with what came of it, and what did not is not", () => {
  ran(1, "gather", 5_000);
  ran(2, "move", 60_000);
  ran(3, "offload", 60_000, "failed", "Do not wipe the card.");
  expect(shown).toEqual([
    { title: "The movement of Weir is measured", body: "" },
    { title: "Weir: not done", body: "Do not wipe the card." },
  ]);
});

test("an encode is told however short it was, and once", () => {
  ran(4, "encode", 1_000);
  tellOf(job(4, "encode", "finished"), job(4, "encode", "finished"));
  expect(shown).toEqual([{ title: "Weir is encoded", body: "250 frames" }]);
});

test("what was cancelled, or had ended before it was heard of, is not told", () => {
  ran(5, "gather", 60_000, "cancelled");
  tellOf(job(6, "gather", "finished"), undefined);
  expect(shown).toEqual([]);
});
