import { ref, type Ref } from "vue";

import { placeIn } from "../../stage/picture";
import { useReel } from "./reel";

/** Going through the reel by a pointer that is dragged along an element, across it or down. */
export function useScrub(element: Ref<HTMLElement | undefined>, along: "x" | "y") {
  const reel = useReel();
  const dragging = ref(false);

  function goTo(event: PointerEvent): void {
    reel.goTo(Math.round(placeIn(element.value!, event)[along] * (reel.frames - 1)));
  }

  function release(): void {
    dragging.value = false;
  }

  return {
    pointerdown(event: PointerEvent): void {
      if (!reel.frames) return;
      dragging.value = true;
      element.value!.setPointerCapture(event.pointerId);
      reel.pause();
      goTo(event);
    },
    pointermove(event: PointerEvent): void {
      if (dragging.value) goTo(event);
    },
    pointerup: release,
    pointercancel: release,
  };
}
