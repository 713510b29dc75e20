import { useThrottleFn } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { api, Problem, unreachable, type Playback } from "../api/client";
import type { Tally } from "./player";
import { useShot } from "../stores/shot";

/** A frame of a clip as it was planned. */
export interface FrameAt {
  frame: number;
  playback: Playback;
}

/** The clip as it is decided now: how it is played, which frame is looked at, and whether it plays. */
export const useClip = defineStore("clip", () => {
  const shot = useShot();
  const playback = shallowRef<Playback>();
  /** The frame looked at while the clip is gone through; nothing while the shot is gone through still by still. */
  const at = shallowRef<FrameAt>();
  const wanted = ref(false);
  const playing = ref(false);
  /** Whether the first frame since playing began is there. */
  const moving = ref(false);
  /** Where playing stopped: until something else is looked at, the video shows it. */
  const stopped = shallowRef<FrameAt>();
  const waiting = ref(false);
  const refusal = ref("");
  const tally = shallowRef<Tally>({ shown: 0, dropped: 0 });
  let asked = 0;
  let answered = 0;
  /** Rises whenever playing has to begin at another place. */
  const begun = ref(0);

  /** The frame on the stage, or for a still that is looked at the frame that shows it first. */
  const frame = computed(() => (at.value && shot.peeked === undefined ? at.value.frame : frameOf(shot.shown)));
  const timecode = computed(() => (at.value?.playback ?? playback.value)?.timecodes[frame.value] ?? "");

  /** Where a still is first shown, or one near it; of several times the one nearest to `near`. */
  function frameOf(still: number, near = 0): number {
    const stills = playback.value?.stills ?? [];
    let best = 0;
    let distance = Infinity;
    for (let one = 0; one < stills.length; one += 1) {
      const off = Math.abs(stills[one]! - still) * 1e6 + Math.abs(one - near);
      if (off < distance) [best, distance] = [one, off];
    }
    return best;
  }

  const planAnew = useThrottleFn(
    async () => {
      const id = shot.shot?.id;
      if (!id || !wanted.value || !shot.count) return;
      const mine = (asked += 1);
      try {
        const found = await api.playback(id, shot.revision, shot.tried);
        // One that was asked for later may be there already.
        if (id !== shot.shot?.id || mine < answered) return;
        answered = mine;
        refusal.value = "";
        take(found);
      } catch (error) {
        refusal.value = error instanceof Problem ? error.message : unreachable;
        pause();
      }
    },
    150,
    true,
  );

  /** Take a new playback; the still that is looked at stays. */
  function take(found: Playback): void {
    const before = playback.value;
    const same =
      before &&
      before.segments.length === found.segments.length &&
      before.segments.every((one, index) => one.key === found.segments[index]!.key);
    if (same && before.timecodes.length === found.timecodes.length && before.rate === found.rate) return;
    playback.value = found;
    if (!found.frames) pause();
    else if (at.value && !playing.value) {
      const share = at.value.frame / at.value.playback.frames;
      at.value = { playback: found, frame: frameOf(shot.current, Math.round(share * found.frames)) };
    }
    if (playing.value) begun.value += 1;
  }

  watch(
    [() => shot.shot?.id, () => shot.revision, () => shot.tried, () => shot.tailVersion, wanted],
    () => void planAnew(),
    { immediate: true },
  );

  watch(
    () => shot.shot?.id,
    () => {
      pause();
      playback.value = at.value = undefined;
    },
  );

  // Whoever goes to another still lets go of the frame; playing goes on from there.
  watch(
    () => shot.current,
    (still) => {
      if (!at.value || at.value.playback.stills[at.value.frame] === still) return;
      at.value = undefined;
      if (playing.value) begun.value += 1;
    },
    { flush: "sync" },
  );

  /** Look at a frame of the clip. */
  function goTo(wantedFrame: number): void {
    const now = playback.value;
    if (!now?.frames) return;
    look({ playback: now, frame: Math.max(0, Math.min(now.frames - 1, wantedFrame)) });
    if (playing.value) begun.value += 1;
  }

  /** Go some frames on or back and stay there. */
  function step(by: number): void {
    pause();
    goTo(frame.value + by);
  }

  function look(place: FrameAt): void {
    at.value = place;
    shot.peeked = undefined;
    shot.current = place.playback.stills[place.frame]!;
  }

  function play(): void {
    if (playback.value && !playback.value.frames) return;
    shot.peeked = undefined;
    shot.played = undefined;
    refusal.value = "";
    tally.value = { shown: 0, dropped: 0 };
    moving.value = false;
    playing.value = true;
    begun.value += 1;
  }

  function pause(): void {
    if (playing.value) stopped.value = moving.value ? at.value : undefined;
    playing.value = moving.value = waiting.value = false;
  }

  /** What a player tells of a clip that plays, whatever it shows of it. */
  const heard = {
    began: () => void (moving.value = playing.value),
    waiting: (waits: boolean) => void (waiting.value = waits && playing.value),
    failed(sentence: string) {
      pause();
      refusal.value = sentence;
    },
  };

  const toggle = () => (playing.value ? pause() : play());

  return {
    ...{ playback, at, wanted, playing, moving, stopped, waiting, refusal, tally, begun, frame, timecode },
    ...{ heard, frameOf, planAnew, goTo, step, look, play, pause, toggle },
  };
});
