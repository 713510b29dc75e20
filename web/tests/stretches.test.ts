import { expect, test } from "vitest";

import { stretchesOf } from "../src/tail/plots";

test("positions that follow each other are one stretch", () => {
  expect(stretchesOf([])).toEqual([]);
  expect(stretchesOf([4])).toEqual([{ first: 4, last: 4 }]);
  expect(stretchesOf([0, 1, 2, 5, 8, 9])).toEqual([
    { first: 0, last: 2 },
    { first: 5, last: 5 },
    { first: 8, last: 9 },
  ]);
});
