import type { Component, Ref } from "vue";

import type { Place } from "../parts/drag";
import type { FrameMode } from "./frames";

/** How the frame is taken hold of: dragged, come closer to, moved by keys. */
export interface Grip {
  /** What is said of it to who does not see it. */
  label: string;
  /** A line that is being drawn. */
  line: Ref<{ from: Place; to: Place } | undefined>;
  press(at: Place): void;
  move(at: Place): void;
  release(): void;
  /** Let go of it and leave all as it was. */
  drop(): void;
  wheel(turned: number, at: Place): void;
  /** Move it by so many pixels of the clip; says whether that can be done. */
  nudge(right: number, down: number): boolean;
}

/** What a step does with the stage. All of it is asked anew whenever something it rests on changes. */
export interface StepStage {
  /** Single stills, the whole shot as it is checked, or frames of the clip. */
  shows: "stills" | "shot" | "frames";
  /** Whether finished clips are played and compared. */
  clips?: boolean;
  /** The ways the frame can be looked at, in the order they are offered. */
  looks?: readonly FrameMode[];
  /** How the frame is looked at when the step is opened. */
  opensWith?(): FrameMode;
  /** What lies around the frame, and what that is called. */
  around?(): { words?: string; shows: Component };
  /** What is worked with on the stage, in place of the still or the shot that would be shown. */
  tool?(): Component | undefined;
  /** Buttons of its own beside the ways to look. */
  bar?: Component;
  /** Whether guides are of use now. */
  guides?(): boolean;
  grip?: Grip;
  /** Take a click on the frame; says whether it was meant for it. */
  press?(at: Place): boolean;
  /** What is drawn over the frame by hand. */
  over?(): Component | undefined;
  /** The address of a picture that is laid over the frame. */
  overlayMask?(width: number): string | undefined;
  /** The address of a picture that is shown in place of the frame. */
  instead?(width: number, quickly: boolean): string | undefined;
  /** What is said on the frame. */
  flag?(): string | undefined;
  key?(event: KeyboardEvent): boolean;
}
