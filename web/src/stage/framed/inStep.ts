import { computed } from "vue";

import { addresses, api } from "../../api/client";
import { useRead } from "../../api/queries";
import { useClip } from "../../playback/clip";
import { useShot } from "../../stores/shot";
import { useFrames } from "../frames";

/**
 * How what is decided now and what it is compared with are played in step, for as long as they are; and the picture of
 * the other one that belongs to what is looked at.
 */
export function useInStep(wanted: () => boolean) {
  const shot = useShot();
  const clip = useClip();
  const frames = useFrames();
  const now = computed(() => ({ revision: shot.revision, change: shot.tried }));
  const other = computed(() => ({
    shot: frames.otherShot?.id,
    revision: frames.other,
    change: frames.otherChange,
  }));
  const { answer, refusal } = useRead(() => ({
    key: [
      ...["shot", shot.shot?.id ?? 0, "in step", shot.stills.state],
      JSON.stringify([now.value, other.value, frames.inStep]),
    ],
    query: () => api.inStep(shot.shot!.id, now.value, other.value, frames.inStep),
    // Which frame of another shot belongs to one is known from how they play.
    wanted: wanted() && (clip.playing || frames.otherShot !== undefined) && shot.shot !== undefined,
    // Its parts are known to the program for a while only.
    gcTime: 0,
  }));

  function otherAddress(width: number, quickly = false): string | undefined {
    if (!frames.otherShot) {
      const still = shot.shownStill;
      return still && addresses.framed(shot.shot!.id, still, frames.other, frames.otherChange, width, quickly);
    }
    const beside = answer.value?.beside[clip.frame];
    return beside === undefined
      ? undefined
      : addresses.frame(frames.otherShot.id, beside, frames.other, {}, width, quickly);
  }

  return { answer, refusal, otherAddress };
}
