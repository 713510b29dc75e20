import { useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { type Cutoffs } from "../api/client";
import { useShot } from "../stores/shot";

/** The ways the stage can show frames of the clip. */
export const frameLooks = {
  frame: "the frame",
  around: "around it",
  three: "first, middle, last",
  split: "split",
  pair: "side by side",
} as const;
export type FrameMode = keyof typeof frameLooks;

/** What lies under the frame where all around it is shown. */
export const undersides = ["still", "brightest", "mean", "activity"] as const;
export type Underside = (typeof undersides)[number];

export const guideNames = { thirds: "thirds", centre: "centre", margins: "title-safe" } as const;
export type Guide = keyof typeof guideNames;

/** Steps a clip can be looked at without. */
export const withouts = ["light", "move"] as const;
export type Without = (typeof withouts)[number];

/** Another shot a clip can be looked at beside, as it is decided now. */
export interface OtherShot {
  id: number;
  name: string;
  revision: number;
}

/** How the stage looks at frames: which view, which guides, what is being drawn, and what it compares with. */
export const useFrames = defineStore("frames", () => {
  const shot = useShot();
  const mode = ref<FrameMode>("frame");
  const under = ref<Underside>("still");
  const guides = useLocalStorage<Guide[]>("guides", []);
  /** What a stroke or click on the stage means now, other than moving the picture. */
  const drawing = ref<"level" | "colour" | "grey" | "area" | "hue" | "region" | "point">();
  /** The spot that is looked at in the clip's own pixels, in shares of the frame. */
  const real = ref<{ x: number; y: number }>();
  /** Whether a grid helps with straightening. */
  const grid = ref(false);
  /** A revision to compare with, or a step that is left out. */
  const against = ref<number | Without>();
  /** Another shot to compare with instead. */
  const otherShot = shallowRef<OtherShot>();
  /** By what two clips are played in step. */
  const inStep = ref<"still" | "share" | "clock">("still");
  const flipped = ref(false);
  /** Where much of what moves lies outside the frame. */
  const cutoffs = shallowRef<Cutoffs>();

  /** The revision to compare with: the chosen one, else the one before the last change. */
  const other = computed(() => {
    if (otherShot.value) return otherShot.value.revision;
    if (typeof against.value === "string") return shot.revision;
    const last = shot.revision - (Object.keys(shot.tried).length ? 0 : 1);
    return Math.max(1, Math.min(against.value ?? last, shot.revision));
  });

  const otherChange = computed<object>(() =>
    // A step of which nothing is said is as it is where nothing was decided.
    typeof against.value === "string" ? { ...shot.tried, [against.value]: {} } : {},
  );
  const otherWords = computed(() => {
    if (otherShot.value) return otherShot.value.name;
    return typeof against.value === "string" ? `without ${against.value}` : `revision ${other.value}`;
  });

  /** Compare with a revision, with a step left out, or with another shot; of two shots no still is in both. */
  function compareWith(wanted: number | Without | OtherShot | undefined): void {
    otherShot.value = typeof wanted === "object" ? wanted : undefined;
    against.value = typeof wanted === "object" ? undefined : wanted;
    if (
      (inStep.value === "still") === (otherShot.value !== undefined) ||
      (!otherShot.value && inStep.value === "clock")
    )
      inStep.value = otherShot.value ? "share" : "still";
  }

  function show(wanted: FrameMode): void {
    mode.value = wanted;
    drawing.value = undefined;
    flipped.value = false;
    real.value = undefined;
  }

  function toggleGuide(guide: Guide): void {
    guides.value = guides.value.includes(guide)
      ? guides.value.filter((one) => one !== guide)
      : [...guides.value, guide];
  }

  /** Let go of all special modes; says whether there was one. */
  function plain(): boolean {
    const special = drawing.value !== undefined || real.value !== undefined || mode.value !== "frame" || flipped.value;
    show("frame");
    return special;
  }

  watch(
    () => shot.shot?.id,
    () => {
      show("frame");
      compareWith(undefined);
      cutoffs.value = undefined;
    },
  );

  return {
    mode,
    under,
    guides,
    drawing,
    real,
    grid,
    against,
    otherShot,
    compareWith,
    other,
    otherChange,
    otherWords,
    inStep,
    flipped,
    cutoffs,
    show,
    toggleGuide,
    plain,
  };
});
