import { useShot } from "../../stores/shot";
import { brightness } from "../../tail/columns";
import { pathsTogether, stretchesOf } from "../../tail/plots";
import type { StepTail } from "../../tail/stepTail";
import { useSteady } from "./steady";

/**
 * How far each still lies from the middle, as shot and as steadied; where a point was pointed at, and where it is
 * hidden.
 */
export function useMoveTail(): StepTail {
  const shot = useShot();
  const steady = useSteady();
  /** What was found about stills that are not those of the shot any more says nothing. */
  const found = () =>
    steady.found?.as_shot.length && steady.found.as_shot.length === shot.count ? steady.found : undefined;
  const percent = (values: readonly number[]) => values.map((value) => value * 100);
  return {
    columns(stills, width, height) {
      const moves = found();
      if (!moves) return [brightness(stills, width, height)];
      const [asShot, steadied] = pathsTogether(percent(moves.as_shot), percent(moves.steadied), width, height);
      const title = "How far each still lies from the middle, as shot (thin) and as steadied";
      return [
        brightness(stills, width, height),
        { words: "moves", title, lines: [{ path: asShot }, { path: steadied, isPlanned: true }] },
      ];
    },
    keyframes() {
      const decided = shot.decisions?.move.steady;
      if (decided?.how !== "anchor") return [];
      const places = decided.points.flatMap((point) => point.places.map((one) => shot.positions.get(one.still)));
      return [...new Set(places)].flatMap((position) =>
        position === undefined ? [] : [{ position, words: `pointed at in still ${position + 1}` }],
      );
    },
    /** Stretches over which an anchored point is not seen. */
    hidden: () => stretchesOf((found()?.sure[0] ?? []).flatMap((sure, position) => (sure > 0 ? [] : [position]))),
    hasTimecode: true,
  };
}
