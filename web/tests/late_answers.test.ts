import { createPinia, setActivePinia } from "pinia";
import { beforeEach, expect, test, vi } from "vitest";

import { api, type Stills } from "../src/api/client";
import { useShot } from "../src/stores/shot";

const { hearers } = vi.hoisted(() => ({ hearers: {} as Record<string, (data: unknown) => void> }));
vi.mock("../src/api/events", () => ({ onTold: (name: string, hear: (data: unknown) => void) => (hearers[name] = hear) }));

function stills(count: number, found: string): Stills {
  const all = Array.from({ length: count }, (_, n) => ({ id: n + 1, position: n, name: `${n}.jpg` }));
  return { stills: all, left_out: [], found, state: `s${count}`, away: 0 } as unknown as Stills;
}

/** Answers that are given when the test says so, in the order the questions were asked. */
let answers: ((answer: Stills) => void)[];

beforeEach(() => {
  setActivePinia(createPinia());
  answers = [];
  const revised = { revision: 1, decisions: { order: {}, check: {} }, versions: [], gathered: true };
  vi.spyOn(api, "shot").mockImplementation(async (id) => ({ ...revised, id }) as never);
  vi.spyOn(api, "stills").mockImplementation(() => new Promise((answer) => answers.push(answer)));
  vi.spyOn(api, "brief").mockResolvedValue({} as never);
  for (const name of ["clips", "order", "sorting", "check"] as const) vi.spyOn(api, name).mockResolvedValue([] as never);
});

const settled = () => new Promise((done) => setTimeout(done));

/** A shot of three stills that is open. */
async function openedWith(found: string) {
  const shot = useShot();
  const opened = shot.open(5);
  await settled();
  answers[0]!(stills(3, found));
  await opened;
  return shot;
}

test("an older answer about all stills does not replace a newer one", async () => {
  const shot = useShot();
  const first = shot.open(5);
  const second = shot.open(5);
  await settled();
  answers[1]!(stills(9, "9 stills, JPEG"));
  await second;
  answers[0]!(stills(3, "3 stills, JPEG"));
  await first;
  expect(shot.stills.found).toBe("9 stills, JPEG");
});

test("another shot is not shown again by what was asked for before it", async () => {
  const shot = useShot();
  const first = shot.open(5);
  const second = shot.open(6);
  await settled();
  answers[1]!(stills(2, "2 stills, JPEG"));
  await second;
  answers[0]!(stills(9, "9 stills, JPEG"));
  await first;
  expect(shot.shot!.id).toBe(6);
  expect(shot.stills.found).toBe("2 stills, JPEG");
});

test("stills that came during gathering do not unsay that it is finished", async () => {
  const shot = await openedWith("3 stills so far.");
  hearers.stills!({ shot_id: 5 });
  await settled();
  hearers.job!({ shot_id: 5, state: "finished" });
  await settled();
  answers[2]!(stills(9, "9 stills, JPEG"));
  await settled();
  answers[1]!(stills(9, ""));
  await settled();
  expect(shot.stills.found).toBe("9 stills, JPEG");
});

test("nor do stills that are asked for while the whole of it is being read", async () => {
  const shot = await openedWith("3 stills so far.");
  hearers.job!({ shot_id: 5, state: "finished" });
  await settled();
  hearers.stills!({ shot_id: 5 });
  await settled();
  answers[1]!(stills(9, "9 stills, JPEG"));
  await settled();
  answers[2]!(stills(9, ""));
  await settled();
  expect(shot.stills.found).toBe("9 stills, JPEG");
});

test("stills that came are taken up while it goes on", async () => {
  const shot = await openedWith("3 stills so far.");
  hearers.stills!({ shot_id: 5 });
  await settled();
  answers[1]!(stills(7, ""));
  await settled();
  expect(shot.stills.found).toBe("7 stills so far.");
});

test("a key that is let go of after an undo does not make the undone change again", async () => {
  const shot = await openedWith("3 stills, JPEG");
  const kept: ((answer: unknown) => void)[] = [];
  const decide = vi.spyOn(api, "decide").mockImplementation(() => new Promise((answer) => kept.push(answer as never)));
  vi.spyOn(api, "undo").mockResolvedValue({ revision: 3, decisions: { order: {}, check: {} } } as never);
  shot.tryOut({ fit: { zoom: 2 } } as never);
  void shot.settle();
  shot.canUndo = true;
  void shot.undo();
  void shot.settle();
  await settled();
  kept[0]!({ revision: 2, decisions: { order: {}, check: {}, fit: { zoom: 2 } }, can_undo: true });
  await settled();
  expect(decide).toHaveBeenCalledTimes(1);
});
