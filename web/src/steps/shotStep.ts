import { defineAsyncComponent, type Component } from "vue";

import type { StepStage } from "../stage/stepStage";
import type { StepTail } from "../tail/stepTail";

/** A step of the job on a shot: its sheet, and what it shows on the stage and in the tail. */
export interface ShotStep {
  sheet: Component;
  /** Fetch the sheet before it is wanted. */
  load: () => Promise<unknown>;
  /** How wide the sheet and the tail are, in pixels. */
  width: number;
  tailWidth?: number;
  /** Made once, while the screen is set up. */
  stage: () => StepStage;
  tail: () => StepTail;
}

/** Return a sheet that is fetched when it is opened, again and again while the program does not answer. */
export function sheetOf(load: () => Promise<Component>): Component {
  return defineAsyncComponent({ loader: load, onError: (_error, retry, _fail, attempts) => void setTimeout(retry, Math.min(5000, 300 * attempts)) });
}
