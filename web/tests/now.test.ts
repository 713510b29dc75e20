// @vitest-environment happy-dom
import { mount } from "@vue/test-utils";
import { createPinia, setActivePinia } from "pinia";
import { beforeEach, describe, expect, test, vi } from "vitest";
import { defineComponent, h } from "vue";

import { api, Problem, type Job } from "../src/api/client";
import { useNow } from "../src/steps/now/now";
import { useShot } from "../src/stores/shot";

const { hearers } = vi.hoisted(() => ({ hearers: {} as Record<string, (data: unknown) => void> }));
vi.mock("../src/api/events", () => ({
  onTold: (name: string, hear: (data: unknown) => void) => (hearers[name] = hear),
  onBack: () => undefined,
  openSoon: () => undefined,
  answersAgain: () => new Promise(() => undefined),
}));
vi.mock("primevue/usetoast", () => ({ useToast: () => ({ add: () => undefined }) }));

const settled = () => new Promise((done) => setTimeout(done));
const proposals = (length: string) => ({ length, answers: { size: { width: 9, height: 9 } }, music: [], shapes: [] });
const job = (id: number, state: Job["state"], more: object = {}) => ({ id, state, message: "", ...more }) as Job;

beforeEach(() => {
  setActivePinia(createPinia());
  vi.restoreAllMocks();
  vi.spyOn(api, "jobs").mockResolvedValue([]);
  vi.spyOn(api, "beginClip").mockResolvedValue({ shot_id: 7, job: job(1, "running") } as never);
  vi.spyOn(api, "proposeAnswers").mockResolvedValue(proposals("10 s") as never);
  vi.spyOn(api, "tryAnswers").mockResolvedValue({ sentence: "Take all of them.", change: {} } as never);
});

/** The short way on a page, whose shot is gathered at once. */
function begun() {
  let now!: ReturnType<typeof useNow>;
  const shot = useShot();
  vi.spyOn(shot, "open").mockImplementation(async (id) => {
    shot.shot = { id, gathered: true } as never;
  });
  mount(
    defineComponent({
      setup() {
        now = useNow();
        return () => h("p");
      },
    }),
  );
  return now;
}

async function gathered() {
  const now = begun();
  now.folder.value = { location: "card", path: "walk", stills: 40, folders: [] } as never;
  await now.next();
  hearers.job!(job(1, "finished"));
  await settled();
  return now;
}

describe("the short way", () => {
  test("does not go on without a folder that has stills in it", async () => {
    const now = begun();
    await now.next();
    now.folder.value = { location: "card", path: "", stills: 0, folders: [] } as never;
    await now.next();
    expect(now.at.value).toBe(0);
    expect(api.beginClip).not.toHaveBeenCalled();
  });

  test("proposes once the stills are gathered, and keeps what was answered meanwhile", async () => {
    const now = begun();
    now.folder.value = { location: "card", path: "walk", stills: 40, folders: [] } as never;
    await now.next();
    expect(now.at.value).toBe(1);
    now.answers.value.length = "12 s";
    now.answers.value.steady = true;
    hearers.job!(job(1, "finished"));
    await settled();
    expect([now.answers.value.length, now.answers.value.steady]).toEqual(["12 s", true]);
    expect(now.answers.value.size).toEqual({ width: 9, height: 9 });
    expect(now.said.value.length).toBe("12 s");
  });

  test("makes a clip step by step: what has to be measured first, then the clip", async () => {
    const now = await gathered();
    const make = vi
      .spyOn(api, "makeClip")
      .mockResolvedValueOnce({ stage: "measuring", reel: null, job: job(2, "running") } as never)
      .mockResolvedValueOnce({ stage: "encoding", reel: null, job: job(3, "running") } as never);
    vi.spyOn(api, "clips").mockResolvedValue([{ id: 50 }, { id: 51 }] as never);
    now.go(4);
    await now.next();
    expect(now.stage.value).toBe("measuring");
    hearers.job!(job(2, "finished"));
    await settled();
    expect([now.stage.value, make.mock.calls.length]).toEqual(["encoding", 2]);
    hearers.job!(job(3, "finished", { clip_id: 51 }));
    await settled();
    expect(now.clip.value!.id).toBe(51);
    // What is done is done: no key begins it again.
    await now.next();
    expect(make).toHaveBeenCalledTimes(2);
  });

  test("makes a clip of each of several folders, one after the other, and goes on with the one that failed", async () => {
    const now = begun();
    const both = [
      { shot_id: 7, job: job(1, "running") },
      { shot_id: 8, job: job(2, "running") },
    ];
    vi.spyOn(api, "beginClips").mockResolvedValue(both as never);
    now.folder.value = { location: "card", path: "", stills: 0, folders: ["a", "b"] } as never;
    now.each.value = true;
    await now.next();
    hearers.job!(job(1, "finished"));
    await settled();
    expect(now.gathered.value).toBe(false);
    hearers.job!(job(2, "finished"));
    await settled();
    expect(now.gathered.value).toBe(true);
    let number = 2;
    const make = vi
      .spyOn(api, "makeClip")
      .mockImplementation(async () => ({ stage: "encoding", reel: null, job: job((number += 1), "running") }) as never);
    vi.spyOn(api, "clips").mockImplementation(async (shot: number) => [{ id: 10 * shot }] as never);
    now.go(4);
    await now.next();
    hearers.job!(job(3, "finished"));
    await settled();
    hearers.job!(job(4, "failed", { message: "The disk is full." }));
    await settled();
    expect([now.refusal.value, now.clip.value]).toEqual(["The disk is full.", undefined]);
    await now.next();
    hearers.job!(job(5, "finished"));
    await settled();
    expect(make.mock.calls.map(([shot]) => shot)).toEqual([7, 8, 8]);
    expect(now.clips.value.map((one) => one.id)).toEqual([70, 80]);
    expect(now.clip.value!.id).toBe(70);
  });

  test("one that failed says why and can be begun again", async () => {
    const now = await gathered();
    vi.spyOn(api, "makeClip").mockResolvedValue({ stage: "encoding", reel: null, job: job(2, "running") } as never);
    now.go(4);
    await now.next();
    hearers.job!(job(2, "failed", { message: "The disk is full." }));
    await settled();
    expect([now.refusal.value, now.making.value]).toEqual(["The disk is full.", undefined]);
    await now.next();
    expect(api.makeClip).toHaveBeenCalledTimes(2);
  });

  test("what is refused is said, and nothing is under way", async () => {
    const now = await gathered();
    vi.spyOn(api, "makeClip").mockRejectedValue(new Problem("no", 409, "This shot is being worked on."));
    now.go(4);
    await now.next();
    expect([now.refusal.value, now.making.value]).toEqual(["This shot is being worked on.", undefined]);
  });

  test("a job of something else ends nothing here", async () => {
    const now = await gathered();
    vi.spyOn(api, "makeClip").mockResolvedValue({ stage: "encoding", reel: null, job: job(2, "running") } as never);
    now.go(4);
    await now.next();
    hearers.job!(job(9, "failed", { message: "Not this one." }));
    await settled();
    expect([now.refusal.value, now.making.value!.id]).toEqual(["", 2]);
  });
});
