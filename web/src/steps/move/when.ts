import { computed } from "vue";

import type { Playback } from "../../api/client";
import { useClip } from "../../playback/clip";

/** A time of the clip, 0 its first frame and 1 its last, in words. */
export function timeWords(at: number, playback: Playback | undefined): string {
  if (at === 0) return "at the start";
  if (at === 1) return "at the end";
  const code = playback?.timecodes[Math.round(at * (playback.frames - 1))];
  return code ? `at ${code}` : `at ${Math.round(at * 100)} %`;
}

/** The time of the clip that is looked at. */
export function useHere() {
  const clip = useClip();
  return computed(() => (clip.playback && clip.playback.frames > 1 ? clip.frame / (clip.playback.frames - 1) : 0));
}
