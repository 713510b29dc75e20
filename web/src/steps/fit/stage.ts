import { useFrames } from "../../stage/frames";
import type { StepStage } from "../../stage/stepStage";
import AroundFrame from "./AroundFrame.vue";
import { useGrip } from "./grip";
import UnderChoice from "./UnderChoice.vue";

/** The frame is moved over the still, and all of the still can be seen around it. */
export function useFitStage(): StepStage {
  const frames = useFrames();
  return {
    shows: "frames",
    looks: ["frame", "around", "three"],
    around: () => ({ shows: AroundFrame }),
    bar: UnderChoice,
    guides: () => frames.mode !== "around",
    grip: useGrip(),
  };
}
