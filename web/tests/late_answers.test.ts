import { createPinia, setActivePinia } from "pinia";
import { beforeEach, expect, test, vi } from "vitest";

import { api, type Problem, type Stills } from "../src/api/client";
import { useShot } from "../src/stores/shot";

const { hearers } = vi.hoisted(() => ({ hearers: {} as Record<string, (data: unknown) => void> }));
vi.mock("../src/api/events", () => ({
  onTold: (name: string, hear: (data: unknown) => void) => (hearers[name] = hear),
  answersAgain: () => new Promise(() => undefined),
}));

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
  for (const name of ["clips", "order", "sorting", "check"] as const)
    vi.spyOn(api, name).mockResolvedValue([] as never);
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

/** A step's decisions of one number, as the program answers them. */
const decided = (revision: number, zoom: number) =>
  ({
    revision,
    decisions: { order: {}, check: {}, fit: { zoom } },
    versions: [],
    can_undo: true,
    brief: { zoom },
  }) as never;

/** What is sent to be kept, in turn, each to be answered when the test says so. */
function sending() {
  const sent: {
    shot: number;
    seen: number;
    zoom: number;
    answer: (zoom?: number) => Promise<unknown>;
    refuse: (problem: Problem) => Promise<unknown>;
  }[] = [];
  vi.spyOn(api, "decide").mockImplementation(
    (shot, seen, decisions) =>
      new Promise((answer, refuse) =>
        sent.push({
          ...{ shot, seen, zoom: decisions.fit.zoom },
          answer: (zoom = decisions.fit.zoom) => (answer(decided(seen + 1, zoom)), settled()),
          refuse: (problem) => (refuse(problem), settled()),
        }),
      ),
  );
  return sent;
}

async function opened(id: number) {
  vi.spyOn(api, "shot").mockImplementation(
    async (of) => ({ ...(decided(1, of) as object), id: of, gathered: true }) as never,
  );
  vi.spyOn(api, "stills").mockResolvedValue(stills(3, "3 stills, JPEG"));
  const shot = useShot();
  await shot.open(id);
  return shot;
}

test("a key that is let go of after an undo does not make the undone change again", async () => {
  const shot = await opened(5);
  const sent = sending();
  const undo = vi.spyOn(api, "undo").mockResolvedValue(decided(3, 5));
  shot.tryOut({ fit: { zoom: 2 } });
  void shot.settle();
  void shot.undo();
  void shot.settle();
  await settled();
  await sent[0]!.answer();
  expect(undo).toHaveBeenCalledTimes(1);
  expect(sent).toHaveLength(1);
  expect(shot.decisions!.fit.zoom).toBe(5);
});

test("what is decided about a shot is kept of it, though another is open by the time it is answered", async () => {
  const shot = await opened(5);
  const sent = sending();
  void shot.decide({ fit: { zoom: 2 } });
  void shot.decide({ fit: { zoom: 3 } });
  await settled();
  await shot.open(6);
  await sent[0]!.answer();
  expect(shot.decisions!.fit.zoom).toBe(6);
  expect(shot.brief).toEqual({ zoom: 6 });
  expect(sent.map(({ shot, seen, zoom }) => [shot, seen, zoom])).toEqual([
    [5, 1, 2],
    [5, 2, 3],
  ]);
  await sent[1]!.answer();
  expect(shot.decisions!.fit.zoom).toBe(6);
  expect(shot.revision).toBe(1);
});

test("one who comes back to a shot finds what was on its way to be kept", async () => {
  const shot = await opened(5);
  const sent = sending();
  void shot.decide({ fit: { zoom: 2 } });
  await settled();
  await shot.open(6);
  const back = shot.open(5);
  await settled();
  await sent[0]!.answer();
  await back;
  expect(shot.decisions!.fit.zoom).toBe(2);
  expect(shot.brief).toEqual({ zoom: 2 });
});

test("what is tried in a shot that is left is kept there, and not in the next", async () => {
  const shot = await opened(5);
  const sent = sending();
  shot.tryOut({ fit: { zoom: 2 } });
  await shot.open(6);
  expect(sent.map(({ shot, zoom }) => [shot, zoom])).toEqual([[5, 2]]);
  expect(shot.decisions!.fit.zoom).toBe(6);
});

test("what was read of a shot before a change was kept does not take that back", async () => {
  const shot = await opened(5);
  const sent = sending();
  let read: (answer: never) => void = () => undefined;
  vi.spyOn(api, "shot").mockImplementation(() => new Promise((answer) => (read = answer)));
  hearers.connected!(null);
  await settled();
  void shot.decide({ fit: { zoom: 2 } });
  await settled();
  await sent[0]!.answer();
  read({ ...(decided(1, 5) as object), id: 5, gathered: true } as never);
  await settled();
  expect(shot.decisions!.fit.zoom).toBe(2);
  expect(shot.revision).toBe(2);
});
