import type { Ref } from "vue";

import { useDrag, type Place } from "../../parts/drag";
import { useReel } from "./reel";

/** Going through the reel by a pointer that is dragged along an element, across it or down. */
export function useScrub(element: Ref<HTMLElement | undefined>, along: "x" | "y") {
  const reel = useReel();
  const goTo = (at: Place) => reel.goTo(Math.round(at[along] * (reel.frames - 1)));
  return useDrag<true>(element, {
    take(at) {
      if (!reel.frames) return undefined;
      reel.pause();
      goTo(at);
      return true;
    },
    pull: (_, at) => goTo(at),
  }).on;
}
