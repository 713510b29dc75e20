import { describe, expect, it } from "vitest";

import { controls, found } from "../src/screens/controls";

describe("finding a control", () => {
  it.each([
    ["grain", "average with stills before and after"],
    ["vignette", "brighten the corners"],
    ["vibrance", "of what is muted alone"],
    ["white balance", "something here is grey"],
    ["tilt shift", "how much"],
    ["horizon", "level"],
    ["deflick", "even out flicker"],
    ["FPS", "Frames per second"],
    ["image sequence", "stills for another program"],
    ["stabilise", "stand still"],
    ["saturation", "more or less colour"],
    ["music", "add sound or a title"],
    ["exposure", "exposure"],
  ])("by “%s” leads to “%s”", (typed, says) => {
    expect(found(typed).map((one) => one.says)).toContain(says);
  });

  it("puts what says the word itself before what is only called so", () => {
    expect(found("exposure")[0]?.says).toBe("exposure");
    expect(
      found("sharpening")
        .slice(0, 2)
        .map((one) => one.step),
    ).toEqual(["light", "fit"]);
  });

  it("wants every word, and finds nothing for none", () => {
    expect(found("colour noise").every((one) => one.section === "surface")).toBe(true);
    expect(found("colour noise").length).toBeGreaterThan(0);
    expect(found("  ")).toEqual([]);
    expect(found("turnip")).toEqual([]);
  });

  it("knows each control once", () => {
    const names = controls.map((one) => `${one.step} ${one.section} ${one.says}`);
    expect(new Set(names).size).toBe(names.length);
  });
});
