import { describe, expect, test } from "vitest";

import type { Finding } from "../src/api/client";
import { shownOf } from "../src/steps/check/listing";
import { foundIn } from "../src/steps/check/found";

describe("a list of many findings", () => {
  test("shows all where they fit", () => {
    expect(shownOf([3, 0, 12, 5])).toEqual([3, 0, 12, 5]);
  });

  test("shows twenty in all, and some of every kind", () => {
    const shown = shownOf([40, 2, 9]);
    expect(shown.reduce((one, other) => one + other)).toBe(20);
    expect(shown).toEqual([9, 2, 9]);
    expect(shownOf(Array.from({ length: 30 }, () => 1)).filter(Boolean)).toHaveLength(20);
  });
});

test("what was found is drawn over the plot it shows in", () => {
  const found = ["misfire", "soft", "knock", "pause"].map((kind) => ({ kind }) as Finding);
  expect(foundIn("sharpness", found).map((one) => one.kind)).toEqual(["soft"]);
  expect(foundIn("interval", found).map((one) => one.kind)).toEqual(["pause"]);
  expect(foundIn("brightness", found).map((one) => one.kind)).toEqual(["misfire"]);
  expect(foundIn("a plot of tomorrow", found)).toEqual([]);
});
