import { useIntervalFn, useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { addresses, type Finding, type Still } from "../api/client";
import { useShot } from "./shot";

/** The ways the stage can show a still, or the whole shot, while it is being checked. */
export const looks = {
  one: "one still",
  beside: "before, it, after",
  three: "first, middle, last",
  difference: "what changed",
  clipped: "clipped areas",
  mean: "mean of all",
  brightest: "brightest of all",
  darkest: "darkest of all",
  activity: "activity",
} as const;
export type Look = keyof typeof looks;
export type WholeLook = "mean" | "brightest" | "darkest" | "activity";

export function isWhole(look: Look): look is WholeLook {
  return look === "mean" || look === "brightest" || look === "darkest" || look === "activity";
}

/** A spot of the still that is looked at in real pixels, in shares of its width and height. */
export interface Spot {
  across: number;
  down: number;
}

/** How the stage looks at the shot: which view, which spot, what is tried, and whether it blinks. */
export const useLooks = defineStore("looks", () => {
  const shot = useShot();
  const look = ref<Look>("one");
  const spot = shallowRef<Spot>();
  /** Where the pointer is over the picture. */
  const under = shallowRef<Spot>();
  const finding = shallowRef<Finding>();
  const trying = ref<"bridge" | "hold" | "fill">();
  const perSecond = useLocalStorage("blinks-per-second", 3);
  const flipped = ref(false);
  const three = ref<(number | undefined)[]>([undefined, undefined, undefined]);

  const blink = useIntervalFn(() => (flipped.value = !flipped.value), () => 1000 / perSecond.value, { immediate: false });

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
  const position = computed(() => (blinking.value && flipped.value && lastKept.value !== undefined ? lastKept.value : shot.shown));
  const threePositions = computed(() => {
    const { first, last } = shot.usedStretch;
    return [first, Math.floor((first + last) / 2), last].map((own, index) => Math.min(three.value[index] ?? own, shot.count - 1));
  });

  /** What pictures of many stills are made of: the chosen stretch, else all that the clip uses. */
  const stretch = computed(() => shot.stretch ?? shot.usedStretch);

  function wholeAddress(kind: WholeLook, ending: "jpg" | "png" = "jpg"): string {
    const { first, last } = stretch.value;
    return addresses.whole(shot.shot!.id, kind, first, last, `${shot.revision}-${shot.tailVersion}`, ending);
  }

  /** A still in its own shape, or what the clip shows in its place. */
  function usedAddress(still: Still, width: number): string {
    const id = shot.shot!.id;
    return shot.mended.has(still.id) ? addresses.mended(id, still, shot.revision, width) : addresses.still(id, still, width);
  }

  function toggleBlink(): void {
    flipped.value = false;
    if (blinking.value) blink.pause();
    else {
      look.value = "one";
      blink.resume();
    }
  }

  function toggleSpot(): void {
    spot.value = spot.value ? undefined : (under.value ?? { across: 0.5, down: 0.5 });
    if (spot.value && look.value !== "one") look.value = "one";
  }

  function show(wanted: Look): void {
    look.value = wanted;
    spot.value = undefined;
    if (blinking.value) toggleBlink();
  }

  /** Go where a finding is and show it between its neighbours. */
  function goTo(found: Finding): void {
    finding.value = found;
    trying.value = undefined;
    if (found.kind === "dirt") {
      look.value = "one";
      spot.value = { across: found.evidence.across!, down: found.evidence.down! };
      return;
    }
    shot.goTo(found.first);
    if (!spot.value && !blinking.value) look.value = "beside";
  }

  /** Let go of all special looks; says whether there was one. */
  function plain(): boolean {
    const special = spot.value !== undefined || blinking.value || look.value !== "one";
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
    ...{ look, spot, under, finding, trying, perSecond, three, threePositions, stretch, blinking, position, lastKept },
    ...{ wholeAddress, usedAddress, toggleBlink, toggleSpot, show, goTo, plain },
  };
});
