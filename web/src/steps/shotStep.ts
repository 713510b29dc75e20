import type { Component } from "vue";

import type { StepStage } from "../stage/stepStage";
import type { StepTail } from "../tail/stepTail";

/** A step of the job on a shot: its sheet, and what it shows on the stage and in the tail. */
export interface ShotStep {
  /** Fetch its sheet. */
  load: () => Promise<Component>;
  /** How wide the sheet and the tail are, in pixels. */
  width: number;
  tailWidth?: number;
  /** Made once, while the screen is set up. */
  stage: () => StepStage;
  tail: () => StepTail;
}
