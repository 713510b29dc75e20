import { describe, expect, test } from "vitest";

import type { Decisions, Still } from "../src/api/client";
import { merged, rebased } from "../src/stores/shot";

function decisions(change: object = {}): Decisions {
  const plain = { order: { by: "recommended" }, check: { aside: [] }, fit: { zoom: 1 }, pace: { hold: 1 }, encode: { crf: 18 } };
  return { ...plain, ...change } as unknown as Decisions;
}

describe("a change made over decisions that another change replaced meanwhile", () => {
  test("keeps both where they touch different steps", () => {
    const before = decisions();
    const wanted = { ...before, fit: { zoom: 2 } } as unknown as Decisions;
    const now = decisions({ pace: { hold: 3 }, check: { aside: [7] } });
    expect(rebased(wanted, before, now)).toEqual(decisions({ fit: { zoom: 2 }, pace: { hold: 3 }, check: { aside: [7] } }));
  });

  test("wins where both touch the same step", () => {
    const before = decisions();
    const wanted = { ...before, pace: { hold: 2 } } as unknown as Decisions;
    expect(rebased(wanted, before, decisions({ pace: { hold: 5 } })).pace).toEqual({ hold: 2 });
  });

  test("is left as it is where nothing changed meanwhile", () => {
    const before = decisions();
    const wanted = decisions({ fit: { zoom: 4 } });
    expect(rebased(wanted, before, before)).toBe(wanted);
  });
});

describe("stills that come while a shot is gathered", () => {
  const still = (id: number, position: number, name = `${id}.jpg`) => ({ id, position, name }) as Still;

  test("take their places among those that are there", () => {
    const found = merged([still(1, 0), still(3, 4)], [still(9, 2), still(8, 9)]);
    expect(found.map((one) => one.id)).toEqual([1, 9, 3, 8]);
  });

  test("replace what was known of the same still, and come once", () => {
    const found = merged([still(1, 0, "old.jpg"), still(2, 1)], [still(1, 3, "new.jpg")]);
    expect(found.map((one) => one.name)).toEqual(["2.jpg", "new.jpg"]);
  });
});
