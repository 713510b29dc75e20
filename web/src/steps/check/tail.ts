import { useShot } from "../../stores/shot";
import { measurePath } from "../../tail/plots";
import type { StepTail } from "../../tail/stepTail";
import { foundIn } from "./found";
import PlotChoice from "./PlotChoice.vue";
import { usePlots } from "./plots";
import PlotValues from "./PlotValues.vue";

/** Two measures that are chosen, what was found drawn over the one it shows in, and what is still open marked. */
export function useCheckTail(): StepTail {
  const shot = useShot();
  const plots = usePlots();
  return {
    columns: (_, width, height) =>
      plots.shown.map((plot, index) => ({
        words: plots.chosen[index]!,
        lines: [{ path: measurePath(plot?.values ?? [], width, height) }],
        found: foundIn(plots.chosen[index]!, shot.check?.findings ?? []),
      })),
    marks: () =>
      shot.openFindings
        .map((one) => ({ kind: one.key, position: one.kind === "dirt" ? -1 : one.first, sentence: one.sentence }))
        .filter((one) => one.position >= 0),
    head: PlotChoice,
    foot: PlotValues,
  };
}
