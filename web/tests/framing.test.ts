import { describe, expect, test } from "vitest";

import type { Fit, Seen } from "../src/api/client";
import { closer, moved } from "../src/stage/framed/framing";

const size = { width: 1920, height: 1080 };

function fit(change: Partial<Fit> = {}): Fit {
  return { size, how: "cover", x: 0.5, y: 0.5, zoom: 1, level: 0, ...change } as Fit;
}

/** What is seen of a still that reaches beyond the frame by so many pixels of the clip. */
function seen(room: [number, number], target: [number, number, number, number] = [0, 0, 1, 1]): Seen {
  return { width: 6000, height: 4000, corners: [], room, target } as Seen;
}

describe("dragging the picture", () => {
  test.each([
    [0.5, 0.5, 100, -40],
    [0.3, 0.8, -250, 90],
  ])("moves it under the pointer by as much as the pointer moves", (x, y, right, low) => {
    const room: [number, number] = [1000, 600];
    const before = fit({ x, y });
    const after = { ...before, ...moved(before, seen(room), { right, down: low }) };
    // The picture's left edge lies at −room × share in the frame.
    expect(-room[0] * after.x - -room[0] * x).toBeCloseTo(right, 6);
    expect(-room[1] * after.y - -room[1] * y).toBeCloseTo(low, 6);
  });

  test("stops at its edge, and goes nowhere where there is no room", () => {
    expect(moved(fit(), seen([100, 0]), { right: -5000, down: 70 })).toEqual({ x: 1, y: 0.5 });
  });

  test("of a smaller picture moves it inside the frame", () => {
    const inside = seen([0, 0], [0.25, 0, 0.5, 1]);
    const { x } = moved(fit({ how: "contain" }), inside, { right: 192, down: 0 });
    // 960 pixels are empty; its left edge lies at empty × share.
    expect(960 * x - 960 * 0.5).toBeCloseTo(192, 6);
  });

  test("of a levelled picture follows the pointer and not the picture's own edges", () => {
    const { x, y } = moved(fit({ level: 90 }), seen([1000, 1000]), { right: 100, down: 0 });
    expect(x).toBeCloseTo(0.5, 6);
    expect(y).toBeCloseTo(0.6, 6);
  });
});

describe("coming closer", () => {
  test.each([
    [1.25, 0.2, 0.7],
    [3, 0.9, 0.1],
    [0.8, 0.5, 0.5],
  ])("leaves the point under the pointer where it is", (by, x, y) => {
    const before = fit({ zoom: 2, x: 0.4, y: 0.6 });
    const room: [number, number] = [1920, 1080];
    const after = closer(before, seen(room), by, { x, y });
    // Where the point lies in the picture, in shares of it, as the frame lies over it before and after.
    const point = (share: number, beyond: number, at: number) => (beyond * share + at) / (beyond + 1);
    const factor = after.zoom / before.zoom;
    expect(point(after.x, 2 * factor - 1, x)).toBeCloseTo(point(before.x, 1, x), 6);
    expect(point(after.y, 2 * factor - 1, y)).toBeCloseTo(point(before.y, 1, y), 6);
  });

  test("never leaves the frame empty, and never goes further than is allowed", () => {
    expect(closer(fit(), seen([0, 100]), 0.2, { x: 0.5, y: 0.5 }).zoom).toBe(1);
    expect(closer(fit({ zoom: 15 }), seen([0, 100]), 10, { x: 0.5, y: 0.5 }).zoom).toBe(20);
    expect(closer(fit({ how: "contain" }), seen([0, 0]), 0.001, { x: 0, y: 0 }).zoom).toBe(0.1);
  });
});
