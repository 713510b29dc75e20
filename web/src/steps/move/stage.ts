import { defineAsyncComponent } from "vue";

import type { StepStage } from "../../stage/stepStage";
import { useShot } from "../../stores/shot";
import { useMove } from "./move";

const BandTool = defineAsyncComponent(() => import("./BandTool.vue"));
const SteadyStage = defineAsyncComponent(() => import("./SteadyStage.vue"));
const TravelStage = defineAsyncComponent(() => import("./TravelStage.vue"));

/**
 * The way of the view is drawn over its still, points are shown where they are anchored, and a band says what stays
 * sharp.
 */
export function useMoveStage(): StepStage {
  const shot = useShot();
  const move = useMove();
  return {
    shows: "frames",
    looks: ["around", "frame", "three"],
    opensWith: () => (move.section === "miniature look" ? "frame" : "around"),
    around: () =>
      move.section === "steady"
        ? { words: "whole still", shows: SteadyStage }
        : { words: "its way", shows: TravelStage },
    over: () => (move.section === "miniature look" && shot.decisions!.move.model.strength > 0 ? BandTool : undefined),
  };
}
