import { useFrames } from "../../stage/frames";
import { brightness } from "../../tail/columns";
import type { StepTail } from "../../tail/stepTail";

/** Where much of what moves lies outside the frame is marked. */
export function useFitTail(): StepTail {
  const frames = useFrames();
  return {
    columns: (stills, width, height) => [brightness(stills, width, height)],
    marks: () =>
      (frames.cutoffs?.stretches ?? []).map((one) => ({
        kind: "cut",
        position: one.first,
        sentence: `Cut off up to still ${one.last + 1}`,
      })),
    hasTimecode: true,
  };
}
