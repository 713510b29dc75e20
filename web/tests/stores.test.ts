import { createPinia, setActivePinia } from "pinia";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { effectScope } from "vue";

import { api, Problem } from "../src/api/client";
import { head, useHead } from "../src/stores/head";
import { useProject } from "../src/stores/project";
import { captureOf, useWish } from "../src/steps/capture/wish";

const settled = () => new Promise((done) => setTimeout(done));
beforeEach(() => setActivePinia(createPinia()));
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

describe("the head of the page", () => {
  const says = (name: string) => () => ({ project: { id: 1, name } });

  test("says what the screen that is open says, and nothing once it has gone", () => {
    const screen = effectScope();
    screen.run(() => useHead(says("one")));
    expect(head.value!.project.name).toBe("one");
    screen.stop();
    expect(head.value).toBeUndefined();
  });

  test("a screen that goes after the next one has come takes nothing of it away", () => {
    const [one, next] = [effectScope(), effectScope()];
    one.run(() => useHead(says("one")));
    next.run(() => useHead(says("next")));
    one.stop();
    expect(head.value!.project.name).toBe("next");
    next.stop();
  });
});

describe("the project that is open", () => {
  test("is never one that was asked for before another", async () => {
    const answers = new Map<number, (project: object) => void>();
    vi.spyOn(api, "project").mockImplementation((id) => new Promise((answer) => answers.set(id, answer as never)));
    const store = useProject();
    void store.load(1);
    void store.load(2);
    answers.get(2)!({ id: 2, name: "two" });
    await settled();
    answers.get(1)!({ id: 1, name: "one" });
    await settled();
    expect(store.project!.id).toBe(2);
  });

  test("is not shown while another one is fetched", async () => {
    vi.spyOn(api, "project").mockResolvedValueOnce({ id: 1 } as never);
    const store = useProject();
    await store.load(1);
    vi.spyOn(api, "project").mockImplementation(() => new Promise(() => undefined));
    void store.load(2);
    expect(store.project).toBeUndefined();
  });
});

describe("what is wished of a shoot", () => {
  beforeEach(() => {
    vi.useFakeTimers({ now: new Date(2031, 4, 4, 18, 0, 0) });
    vi.spyOn(api, "duration").mockImplementation(async (text) => ({ seconds: Number.parseFloat(text) }) as never);
  });
  const wished = (more: object) => captureOf({ ...useWish().value, camera: "cam", ...more });

  test("a number of stills has no end by the clock", async () => {
    expect(await wished({ interval: "2.5", count: 40 })).toMatchObject({
      ...{ camera: "cam", interval_ms: 2500, count: 40, span_s: null, starts_at: null, most_exposure: 0.5 },
    });
  });

  test("a time of day is the next one the clock shows: later today, or tomorrow", async () => {
    const later = await wished({ starts: "19:30" });
    expect(later.starts_at).toBe(new Date(2031, 4, 4, 19, 30).toISOString());
    const tomorrow = await wished({ starts: "06:00:30" });
    expect(tomorrow.starts_at).toBe(new Date(2031, 4, 5, 6, 0, 30).toISOString());
  });

  test("until a time is as long as there is from its start to there", async () => {
    const found = await wished({ ending: "until", starts: "19:30", until: "20:15" });
    expect([found.span_s, found.count]).toEqual([45 * 60, null]);
    const atOnce = await wished({ ending: "until", until: "18:00:40" });
    expect(atOnce.span_s).toBe(40);
  });

  test("an end that is not said is refused in words", async () => {
    await expect(wished({ ending: "until", until: "" })).rejects.toThrow(Problem);
    expect((await wished({ ending: "span", span: "90" })).span_s).toBe(90);
  });
});
