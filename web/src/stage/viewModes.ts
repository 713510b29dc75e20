import { useIntervalFn, useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { addresses, type Finding, type Still } from "../api/client";
import { useShot } from "../stores/shot";

/** The ways the stage can show a still, or the whole shot, while it is being checked. */
export const viewModes = {
  one: "one still",
  all: "all stills",
  beside: "before, it, after",
  three: "first, middle, last",
  difference: "what changed",
  clipped: "clipped areas",
  mean: "mean of all",
  brightest: "brightest of all",
  darkest: "darkest of all",
  activity: "activity",
} as const;
export type ViewMode = keyof typeof viewModes;
export type StackMode = "mean" | "brightest" | "darkest" | "activity";

export function isStack(mode: ViewMode): mode is StackMode {
  return mode === "mean" || mode === "brightest" || mode === "darkest" || mode === "activity";
}

/** A spot of the still that is looked at in real pixels, in shares of its width and height. */
export interface Spot {
  x: number;
  y: number;
}

/** How the stage looks at the shot: which view, which spot, what is tried, and whether it blinks. */
export const useViewModes = defineStore("view modes", () => {
  const shot = useShot();
  const mode = ref<ViewMode>("one");
  const spot = shallowRef<Spot>();
  /** Where the pointer is over the picture. */
  const under = shallowRef<Spot>();
  const finding = shallowRef<Finding>();
  const trying = ref<"bridge" | "repeat" | "fill">();
  const perSecond = useLocalStorage("blinks-per-second", 3);
  const flipped = ref(false);
  const three = ref<(number | undefined)[]>([undefined, undefined, undefined]);

  const blink = useIntervalFn(
    () => (flipped.value = !flipped.value),
    () => 1000 / perSecond.value,
    { immediate: false },
  );

  /** The last still before the one shown that the clip uses as it was shot. */
  const lastKept = computed(() => {
    for (let position = shot.shown - 1; position >= 0; position -= 1) {
      const id = shot.stills.stills[position]!.id;
      if (!shot.aside.has(id) && !shot.mended.has(id)) return position;
    }
    return undefined;
  });
  const blinking = computed(() => blink.isActive.value);
  /** The position the stage shows now: blinking shows the last still kept in turn. */
  const position = computed(() =>
    blinking.value && flipped.value && lastKept.value !== undefined ? lastKept.value : shot.shown,
  );
  const threePositions = computed(() => {
    const { first, last } = shot.usedStretch;
    return [first, Math.floor((first + last) / 2), last].map((own, index) =>
      Math.min(three.value[index] ?? own, shot.count - 1),
    );
  });

  /** What pictures of many stills are made of: the chosen stretch, else all that the clip uses. */
  const stretch = computed(() => shot.stretch ?? shot.usedStretch);

  function stackAddress(kind: StackMode, ending: "jpg" | "png" = "jpg"): string {
    const { first, last } = stretch.value;
    return addresses.whole(shot.shot!.id, kind, first, last, `${shot.revision}-${shot.tailVersion}`, ending);
  }

  /** A still in its own shape, or what the clip shows in its place. */
  function usedAddress(still: Still, width: number): string {
    const id = shot.shot!.id;
    return shot.mended.has(still.id) || shot.decisions?.check.dust.length
      ? addresses.mended(id, still, shot.revision, width)
      : addresses.still(id, still, width);
  }

  function toggleBlink(): void {
    flipped.value = false;
    if (blinking.value) blink.pause();
    else {
      mode.value = "one";
      blink.resume();
    }
  }

  function toggleSpot(): void {
    spot.value = spot.value ? undefined : (under.value ?? { x: 0.5, y: 0.5 });
    if (spot.value && mode.value !== "one") mode.value = "one";
  }

  function show(wanted: ViewMode): void {
    mode.value = wanted;
    spot.value = undefined;
    if (blinking.value) toggleBlink();
  }

  /** Go where a finding is and show it between its neighbours. */
  function goTo(found: Finding): void {
    finding.value = found;
    trying.value = undefined;
    if (found.kind === "dirt") {
      mode.value = "one";
      spot.value = { x: found.evidence.x!, y: found.evidence.y! };
      return;
    }
    shot.goTo(found.first);
    // On the sheet of all stills it is brought into sight among them.
    if (!spot.value && !blinking.value && mode.value !== "all") mode.value = "beside";
  }

  /** Let go of all special modes; says whether there was one. */
  function plain(): boolean {
    const special = spot.value !== undefined || blinking.value || mode.value !== "one";
    show("one");
    return special;
  }

  watch(
    () => shot.shot?.id,
    () => {
      show("one");
      finding.value = trying.value = undefined;
      three.value = [undefined, undefined, undefined];
    },
  );

  return {
    ...{ mode, spot, under, finding, trying, perSecond, three, threePositions, stretch, blinking, position, lastKept },
    ...{ stackAddress, usedAddress, toggleBlink, toggleSpot, show, goTo, plain },
  };
});
