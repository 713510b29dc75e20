import { useShot } from "../../stores/shot";
import { brightness } from "../../tail/columns";
import { measurePath, pathsTogether } from "../../tail/plots";
import type { StepTail } from "../../tail/stepTail";
import { useLight } from "./light";
import { changingSettings } from "./settings";

/**
 * The light there will be lies over the light there is, beside it what leads there; and where a setting says what it
 * is.
 */
export function useLightTail(): StepTail {
  const shot = useShot();
  const light = useLight();
  return {
    columns(stills, width, height) {
      const course = light.course;
      if (!course?.measured.length) return [brightness(stills, width, height)];
      const [measured, planned] = pathsTogether(course.measured, course.planned, width, height);
      return [
        { words: "bright", lines: [{ path: measured }, { path: planned, isPlanned: true }] },
        {
          words: "gain",
          title: "What evening adds to each still, in stops",
          lines: [{ path: measurePath(course.gains, width, height) }],
        },
      ];
    },
    keyframes() {
      const found = new Map<number, string[]>();
      for (const { path, keyframes } of changingSettings(shot.decisions?.light)) {
        for (const one of keyframes) {
          const position = shot.positions.get(one.still);
          if (position !== undefined) found.set(position, [...(found.get(position) ?? []), `${path} ${one.value}`]);
        }
      }
      return [...found].map(([position, said]) => ({ position, words: said.join(", ") }));
    },
    hasTimecode: true,
  };
}
