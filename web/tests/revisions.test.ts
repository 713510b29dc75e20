import { beforeEach, describe, expect, test, vi } from "vitest";

import { Problem } from "../src/api/client";
import { areAtOdds, merged } from "../src/stores/merge";
import { useRevisions } from "../src/stores/revisions";

const { back } = vi.hoisted(() => ({ back: { again: () => undefined as void } }));
vi.mock("../src/api/events", () => ({
  onTold: () => undefined,
  answersAgain: () => new Promise<void>((heard) => (back.again = heard)),
}));

interface Decided {
  fit: { zoom: number; level: number };
  pace: { hold: number };
  areas: { name: string; on: boolean }[];
}

const plain: Decided = { fit: { zoom: 1, level: 0 }, pace: { hold: 1 }, areas: [] };
const settled = () => new Promise((done) => setTimeout(done));
const stale = new Problem("stale_revision", 409, "Another window changed the pace.");
const away = new Problem("unreachable", 0, "The program does not answer.");

/** A program that keeps decisions, and may be told to answer only later, to refuse, or to be away. */
function program() {
  const server = { revision: 1, decisions: plain };
  const says = { next: [] as (Problem | "lost" | undefined)[], kept: [] as Decided[] };
  const line = useRevisions<Decided, typeof server>({
    keep: async (seen, wanted) => {
      const said = says.next.shift();
      await settled();
      if (said && said !== "lost") throw said;
      if (seen !== server.revision) throw stale;
      [server.revision, server.decisions] = [seen + 1, wanted];
      says.kept.push(wanted);
      if (said === "lost") throw away;
      return { ...server };
    },
    read: async () => ({ ...server }),
  });
  line.take({ ...server });
  const zoom = (value: number) => (now: Decided) => ({ ...now, fit: { ...now.fit, zoom: value } });
  const hold = (value: number) => (now: Decided) => ({ ...now, pace: { hold: value } });
  return { server, says, line, zoom, hold };
}

let one: ReturnType<typeof program>;
beforeEach(() => (one = program()));

describe("changes", () => {
  test("show at once, and are kept in turn, each from what is kept by then", async () => {
    const { line, says, zoom, hold } = one;
    void line.decide(zoom(2));
    const last = line.decide(hold(3));
    expect(line.shown).toEqual({ ...plain, fit: { zoom: 2, level: 0 }, pace: { hold: 3 } });
    expect(line.kept).toEqual(plain);
    await last;
    expect(says.kept.map((kept) => [kept.fit.zoom, kept.pace.hold])).toEqual([
      [2, 1],
      [2, 3],
    ]);
    expect(line.revision).toBe(3);
  });

  test("that are refused leave alone, and take nothing with them", async () => {
    const { line, says, zoom, hold } = one;
    says.next = [new Problem("invalid", 422, "A zoom of 200 is too much.")];
    void line.decide(zoom(200));
    const next = line.decide(hold(3));
    await settled();
    await settled();
    expect(line.refusal).toContain("200");
    await next;
    expect(says.kept).toEqual([{ ...plain, pace: { hold: 3 } }]);
    expect(line.shown).toEqual({ ...plain, pace: { hold: 3 } });
  });

  test("are kept with what another window changed otherwise", async () => {
    const { line, server, zoom } = one;
    [server.revision, server.decisions] = [7, { ...plain, pace: { hold: 5 } }];
    await line.decide(zoom(2));
    expect(line.shown).toEqual({ ...plain, fit: { zoom: 2, level: 0 }, pace: { hold: 5 } });
    expect(line.refusal).toBe("");
    expect(server.revision).toBe(8);
  });

  test("do not go over what another window changed of the same", async () => {
    const { line, server, says, hold } = one;
    [server.revision, server.decisions] = [7, { ...plain, pace: { hold: 5 } }];
    await line.decide(hold(2));
    expect(line.shown!.pace.hold).toBe(5);
    expect(line.refusal).toBe(stale.message);
    expect(says.kept).toEqual([]);
  });

  test("wait while the program is away, and are kept once when it is back", async () => {
    const { line, says, zoom, hold } = one;
    says.next = [away];
    void line.decide(zoom(2));
    const last = line.decide(hold(3));
    await settled();
    await settled();
    expect(line.refusal).toBe(away.message);
    expect(line.shown!.fit.zoom).toBe(2);
    back.again();
    await last;
    expect(says.kept.map((kept) => [kept.fit.zoom, kept.pace.hold])).toEqual([
      [2, 1],
      [2, 3],
    ]);
    expect(line.refusal).toBe("");
  });

  test("whose answer was lost are not made twice", async () => {
    const { line, says } = one;
    says.next = ["lost"];
    const done = line.decide((now) => ({ ...now, areas: [...now.areas, { name: "sky", on: true }] }));
    await settled();
    await settled();
    back.again();
    await done;
    expect(says.kept).toHaveLength(1);
    expect(line.shown!.areas).toHaveLength(1);
    expect(line.revision).toBe(2);
  });

  test("that change nothing are not sent", async () => {
    const { line, says, zoom } = one;
    await line.decide(zoom(1));
    expect(says.kept).toEqual([]);
  });
});

describe("what is tried", () => {
  test("shows over what is kept, and is kept once, when it is let go of", async () => {
    const { line, says, zoom } = one;
    line.tryOut(zoom(2));
    line.tryOut(zoom(3));
    expect(line.shown!.fit.zoom).toBe(3);
    expect(says.kept).toEqual([]);
    await line.settle();
    await line.settle();
    expect(says.kept.map((kept) => kept.fit.zoom)).toEqual([3]);
    expect(line.isTrying).toBe(false);
  });

  test("is not taken back by an answer that comes meanwhile", async () => {
    const { line, hold, zoom } = one;
    const done = line.decide(hold(4));
    line.tryOut(zoom(2));
    await done;
    expect(line.shown).toEqual({ ...plain, fit: { zoom: 2, level: 0 }, pace: { hold: 4 } });
    line.take({ revision: 9, decisions: plain });
    expect(line.shown!.fit.zoom).toBe(2);
  });

  test("is kept before what the program changes, so that an undo takes that back alone", async () => {
    const { line, server, says, zoom } = one;
    line.tryOut(zoom(2));
    await line.change(async (seen) => {
      expect(seen).toBe(2);
      [server.revision, server.decisions] = [3, plain];
      return { ...server };
    });
    expect(says.kept.map((kept) => kept.fit.zoom)).toEqual([2]);
    expect(line.shown!.fit.zoom).toBe(1);
  });
});

describe("older answers", () => {
  test("never replace newer ones", async () => {
    const { line, zoom } = one;
    await line.decide(zoom(2));
    expect(line.take({ revision: 1, decisions: plain })).toBe(false);
    expect(line.shown!.fit.zoom).toBe(2);
  });
});

describe("a change made over what another change replaced meanwhile", () => {
  test("keeps both, value by value", () => {
    const wanted = { ...plain, fit: { zoom: 2, level: 0 } };
    const now = { ...plain, fit: { zoom: 1, level: 7 }, pace: { hold: 3 } };
    expect(merged(now, plain, wanted)).toEqual({ ...plain, fit: { zoom: 2, level: 7 }, pace: { hold: 3 } });
    expect(areAtOdds(plain, wanted, { ...now, fit: plain.fit })).toBe(false);
    expect(areAtOdds(plain, wanted, now)).toBe(true);
    expect(areAtOdds(plain, wanted, wanted)).toBe(false);
  });

  test("wins where both touch the same value, and is known to be at odds", () => {
    const wanted = { ...plain, pace: { hold: 2 } };
    const now = { ...plain, pace: { hold: 5 } };
    expect(merged(now, plain, wanted).pace).toEqual({ hold: 2 });
    expect(areAtOdds(plain, wanted, now)).toBe(true);
  });

  test("adds to a list what it added, and changes in it what it changed", () => {
    const [sky, roof] = [
      { name: "sky", on: true },
      { name: "roof", on: true },
    ];
    expect(merged([sky], [], [roof])).toEqual([sky, roof]);
    expect(merged([{ ...sky, on: false }, roof], [sky, roof], [sky, { ...roof, name: "eaves" }])).toEqual([
      { ...sky, on: false },
      { ...roof, name: "eaves" },
    ]);
    expect(merged([255, 0, 0], [0, 0, 0], [0, 9, 0])).toEqual([0, 9, 0]);
  });

  test("tells things that have numbers by them", () => {
    const [one, two, three] = [1, 2, 3].map((id) => ({ id, text: `t${id}` })) as [
      { id: number; text: string },
      { id: number; text: string },
      { id: number; text: string },
    ];
    const changed = { ...one, text: "mine" };
    expect(merged([one, two, three], [one, two], [changed, two])).toEqual([changed, two, three]);
    expect(merged([two], [one, two], [changed, two])).toEqual([two]);
    expect(merged([one, two, three], [one, two], [two])).toEqual([two, three]);
    expect(merged([one, two, three], [one, two], [two, one])).toEqual([two, one, three]);
    expect(merged([{ ...two, text: "theirs" }, one], [one, two], [one, two, three])).toEqual([
      { ...two, text: "theirs" },
      one,
      three,
    ]);
  });

  test("replaces as a whole what has become another kind of thing", () => {
    const before = { kind: "colour", colour: "red" } as object;
    expect(merged({ kind: "blur" } as object, before, { kind: "colour", colour: "blue" } as object)).toEqual({
      kind: "colour",
      colour: "blue",
    });
  });
});
