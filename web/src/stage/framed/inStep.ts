import { computed } from "vue";

import { api } from "../../api/client";
import { useRead } from "../../api/queries";
import { useClip } from "../../playback/clip";
import { useShot } from "../../stores/shot";
import { useFrames } from "../frames";

/** How what is decided now and what it is compared with are played in step, for as long as they are. */
export function useInStep(wanted: () => boolean) {
  const shot = useShot();
  const clip = useClip();
  const frames = useFrames();
  const now = computed(() => ({ revision: shot.revision, change: shot.tried }));
  const other = computed(() => ({ revision: frames.other, change: frames.otherChange }));
  const { answer, refusal } = useRead(() => ({
    key: [
      ...["shot", shot.shot?.id ?? 0, "in step", shot.stills.state],
      JSON.stringify([now.value, other.value, frames.inStep]),
    ],
    query: () => api.inStep(shot.shot!.id, now.value, other.value, frames.inStep),
    wanted: wanted() && clip.playing && shot.shot !== undefined,
    // Its parts are known to the program for a while only.
    gcTime: 0,
  }));
  return { answer, refusal };
}
