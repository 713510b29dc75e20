import type { Still } from "../api/client";
import { brightnessPath } from "./plots";
import type { Column, StepTail } from "./stepTail";

/** How bright each still is: what most steps show. */
export function brightness(stills: readonly Still[], width: number, height: number): Column {
  return { words: "bright", lines: [{ path: brightnessPath(stills, width, height) }] };
}

/** A tail of which nothing more is known than its stills. */
export const plainTail: StepTail = { columns: (stills, width, height) => [brightness(stills, width, height)] };
