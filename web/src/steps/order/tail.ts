import { useShot } from "../../stores/shot";
import { intervalPath } from "../../tail/plots";
import type { StepTail } from "../../tail/stepTail";

/** How long after the one before each still was taken, and what breaks the order. */
export function useOrderTail(): StepTail {
  const shot = useShot();
  return {
    columns: (stills, width, height) => [{ words: "interval", lines: [{ path: intervalPath(stills, width, height) }] }],
    marks: () => shot.order?.breaks ?? [],
  };
}
