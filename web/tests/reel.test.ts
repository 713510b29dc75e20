import { createPinia, setActivePinia } from "pinia";
import { beforeEach, expect, test, vi } from "vitest";

import { api, Problem, type Reel } from "../src/api/client";
import { useReel } from "../src/steps/reel/reel";

vi.mock("../src/api/events", () => ({ onTold: () => undefined, answersAgain: () => Promise.resolve() }));

const decided = (changes: object = {}) =>
  ({
    parts: [],
    titles: [{ id: 1, text: "Ebb" }],
    sound: { tracks: [], loudness: -16 },
    fades: {},
    ...changes,
  }) as unknown as Reel;

/** What the server has: its revision grows with each change it takes. */
let server: { revision: number; decisions: Reel };

beforeEach(() => {
  setActivePinia(createPinia());
  server = { revision: 1, decisions: decided() };
  const shown = () =>
    ({
      ...server,
      id: 3,
      project_id: 1,
      brief: { parts: [], remarks: [] },
      parts: [],
      can_undo: true,
      can_redo: false,
    }) as never;
  vi.spyOn(api, "reel").mockImplementation(async () => shown());
  vi.spyOn(api, "decideReel").mockImplementation(async (_, seen, decisions) => {
    if (seen !== server.revision) throw new Problem("stale_revision", 409, "This reel was changed in another window.");
    server = { revision: seen + 1, decisions };
    return shown();
  });
  for (const name of ["sounds", "logos", "reelClips"] as const) vi.spyOn(api, name).mockResolvedValue([] as never);
  vi.spyOn(api, "reelPlayback").mockResolvedValue({ frames: 0, segments: [], timecodes: [] } as never);
});

async function opened() {
  const reel = useReel();
  await reel.open(3);
  return reel;
}

test("changes that follow each other quickly are all kept", async () => {
  const reel = await opened();
  void reel.decide(reel.changeTitle(1, { text: "Flood" }));
  await reel.decide(() => ({ chapters: true }));
  expect(server.revision).toBe(3);
  expect(server.decisions.titles[0]!.text).toBe("Flood");
  expect(server.decisions.chapters).toBe(true);
});

test("one who undoes quickly undoes each change once", async () => {
  const seen: number[] = [];
  vi.spyOn(api, "undoReel").mockImplementation(async (_, revision) => {
    seen.push(revision);
    server = { ...server, revision: revision + 1 };
    return { ...server, brief: { parts: [], remarks: [] }, parts: [], can_undo: true, can_redo: true } as never;
  });
  const reel = await opened();
  void reel.undo();
  void reel.undo();
  await reel.undo();
  expect(seen).toEqual([1, 2, 3]);
});

test("what is dragged is shown, and kept only when it is let go of", async () => {
  const reel = await opened();
  reel.attempt(reel.changeTitle(1, { x: 0.25 }));
  expect(reel.tried?.titles[0]!.x).toBe(0.25);
  expect(server.revision).toBe(1);
  await reel.settle();
  expect(server.decisions.titles[0]!.x).toBe(0.25);
  expect(reel.tried).toBeUndefined();
});

test("a sound that came in meanwhile takes no change away", async () => {
  const reel = await opened();
  server = { revision: 2, decisions: decided({ sound: { tracks: [{ id: 1 }], loudness: -16 } }) };
  reel.attempt(reel.changeTitle(1, { text: "Slack" }));
  await reel.settle();
  expect(server.decisions.titles[0]!.text).toBe("Slack");
  expect(server.decisions.sound.tracks).toHaveLength(1);
  expect(reel.refusal).toBe("");
});

test("a change is of the part it was made of, whichever is worked on by the time it is kept", async () => {
  server.decisions = decided({
    titles: [
      { id: 1, text: "Ebb" },
      { id: 2, text: "Flood" },
    ],
  });
  const reel = await opened();
  void reel.decide(() => ({ chapters: true }));
  let workedOn = 1;
  const done = reel.decide((now) => ({
    titles: now.titles.map((one) => (one.id === workedOn ? { ...one, text: "Slack" } : one)),
  }));
  workedOn = 2;
  await done;
  expect(server.decisions.titles.map((one) => one.text)).toEqual(["Slack", "Flood"]);
});

test("what another window changed is shown, and the change that did not know of it is refused", async () => {
  const reel = await opened();
  server = { revision: 2, decisions: decided({ titles: [{ id: 1, text: "Spring tide" }] }) };
  await reel.decide(reel.changeTitle(1, { text: "Neap" }));
  expect(server.decisions.titles[0]!.text).toBe("Spring tide");
  expect(reel.decisions!.titles[0]!.text).toBe("Spring tide");
  expect(reel.refusal).toContain("another window");
});
