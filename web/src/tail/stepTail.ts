import type { Component } from "vue";

import type { Finding, Still } from "../api/client";
import type { SecondBand } from "./plots";

/** A line down a column; one that shows what is planned is drawn stronger. */
export interface Line {
  path: string;
  isPlanned?: boolean;
}

/** A column beside the stills: lines, stretches of findings, or the seconds of the clip. */
export interface Column {
  words: string;
  title?: string;
  lines: Line[];
  found?: Finding[];
  /** `now` says which is looked at: it changes with every frame that is played, and the rest does not. */
  seconds?: { bands: SecondBand[]; now(): number };
}

export interface TailMark {
  kind: string;
  position: number;
  sentence: string;
}

/** What a step shows in the tail. All of it is asked anew whenever something it rests on changes. */
export interface StepTail {
  /** The columns beside the stills, for lines so wide and high in pixels. */
  columns(stills: readonly Still[], width: number, height: number): Column[];
  marks?(): TailMark[];
  /** The stills at which a setting says what it is. */
  keyframes?(): { position: number; words: string }[];
  /** Stretches in which something that is followed is not seen. */
  hidden?(): { first: number; last: number }[];
  head?: Component;
  foot?: Component;
  /** Whether the still that is looked at has a place in the clip. */
  hasTimecode?: boolean;
}
