import { describe, expect, test } from "vitest";

import { Pairing, partnerOf } from "../src/playback/pairing";

/** What is shown as pictures come: each is its own side and number. */
function shown(frames: number, others: number, come: [0 | 1, number][]): [string, string][] {
  const pairing = new Pairing<string>(frames, others);
  return come.flatMap(([side, frame]) => {
    const pair = pairing.take(side, frame, `${side ? "b" : "a"}${frame}`);
    return pair ? [[pair.first, pair.second] as [string, string]] : [];
  });
}

describe("two files that play", () => {
  test("are as far through, and frame by frame where they have as many", () => {
    expect([0, 1, 2, 3].map((frame) => partnerOf(frame, 4, 4))).toEqual([0, 1, 2, 3]);
    expect([0, 1, 2, 3].map((frame) => partnerOf(frame, 4, 8))).toEqual([1, 3, 5, 7]);
    expect([0, 1, 2, 3].map((frame) => partnerOf(frame, 4, 2))).toEqual([0, 0, 1, 1]);
  });

  test("never show a frame beside another one than its own, whichever comes first", () => {
    const come: [0 | 1, number][] = [
      [0, 0],
      [0, 1],
      [1, 0],
      [1, 1],
      [0, 2],
      [1, 2],
      [1, 3],
      [1, 4],
      [0, 4],
    ];
    expect(shown(9, 9, come)).toEqual([
      ["a0", "b0"],
      ["a1", "b1"],
      ["a2", "b2"],
      ["a4", "b4"],
    ]);
  });

  test("pass over what one of them did not show, and do not go back", () => {
    expect(
      shown(9, 9, [
        [0, 0],
        [1, 1],
        [0, 2],
        [1, 2],
        [1, 0],
      ]),
    ).toEqual([["a2", "b2"]]);
  });

  test("show a frame of the slower one again as long as it lasts", () => {
    expect(
      shown(4, 2, [
        [0, 0],
        [1, 0],
        [0, 1],
        [0, 2],
        [1, 1],
        [0, 3],
      ]),
    ).toEqual([
      ["a0", "b0"],
      ["a1", "b0"],
      ["a2", "b1"],
      ["a3", "b1"],
    ]);
  });

  test("hold only so many pictures that wait", () => {
    const pairing = new Pairing<number>(100, 100, 3);
    for (let frame = 0; frame < 50; frame += 1) pairing.take(0, frame, frame);
    expect(pairing.take(1, 10, 10)).toBeUndefined();
    expect(pairing.take(1, 48, 48)).toEqual({ frame: 48, first: 48, second: 48 });
  });

  test("say by how much the first is ahead", () => {
    const pairing = new Pairing<number>(10, 20);
    expect(pairing.ahead(3, 7)).toBeCloseTo(-0.25);
    expect(pairing.ahead(5, 1)).toBeGreaterThan(4);
  });
});
