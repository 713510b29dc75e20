import { describe, expect, test } from "vitest";

import type { Still } from "../src/api/client";
import { together } from "../src/stores/shot";

describe("stills that come while a shot is gathered", () => {
  const still = (id: number, position: number, name = `${id}.jpg`) => ({ id, position, name }) as Still;

  test("take their places among those that are there", () => {
    const found = together([still(1, 0), still(3, 4)], [still(9, 2), still(8, 9)]);
    expect(found.map((one) => one.id)).toEqual([1, 9, 3, 8]);
  });

  test("replace what was known of the same still, and come once", () => {
    const found = together([still(1, 0, "old.jpg"), still(2, 1)], [still(1, 3, "new.jpg")]);
    expect(found.map((one) => one.name)).toEqual(["2.jpg", "new.jpg"]);
  });
});
