import { useClip } from "../../playback/clip";
import { brightness } from "../../tail/columns";
import { secondBands } from "../../tail/plots";
import type { StepTail } from "../../tail/stepTail";

/** Beside the brightness stands which stills each second of the clip uses. */
export function usePaceTail(): StepTail {
  const clip = useClip();
  return {
    columns(stills, width, height) {
      const shown = [brightness(stills, width, height)];
      if (!clip.playback) return shown;
      const { seconds } = clip.playback;
      const now = () => seconds.findLastIndex((frame) => frame <= clip.frame);
      const title = "The stills that each second of the clip uses";
      return [
        ...shown,
        {
          words: "second",
          title,
          lines: [],
          seconds: { bands: secondBands(clip.playback, stills.length, height, width + 8), now },
        },
      ];
    },
    hasTimecode: true,
  };
}
