import { useDebounceFn, useThrottleFn } from "@vueuse/core";
import { shallowRef, watch, type Ref } from "vue";

import { useRead } from "../api/queries";
import { useShot, type Change } from "./shot";

/** What is asked about: a shot, as a revision and what is tried over it make it, and the still that is looked at. */
export interface Asked {
  shot: number;
  revision: number;
  change: Change;
  /** The position of the still, of what is told of one still. */
  still: number;
}

interface Ways<Answer> {
  /** Where the answer is put, if others are to see it. */
  into?: Ref<Answer | undefined>;
  /** Asked while something is dragged, or once that rests: answers that take long would keep the stage waiting. */
  when?: "at once" | "at rest";
  /** How often at most, or after how long a rest, in milliseconds. */
  every?: number;
  /** Whether decisions change the answer; of the stills themselves they do not. */
  ofDecisions?: boolean;
  /** Whether the answer is told of one still. */
  ofStill?: boolean;
  /** What else the answer depends on. */
  also?: () => unknown;
  /** Whether anybody looks. */
  wanted?: () => boolean;
}

/**
 * Read what follows from the decisions of the shot that is open, kept or only tried, for as long as the component
 * lives. Until a newer answer is there the last one of the same shot stands, also while the program does not answer.
 */
export function useDerived<Answer>(
  name: string,
  ask: (of: Asked) => Promise<Answer>,
  {
    into = shallowRef<Answer>(),
    when = "at rest",
    every = 250,
    ofDecisions = true,
    ofStill = false,
    also = () => null,
    wanted = () => true,
  }: Ways<Answer> = {},
): Ref<Answer | undefined> {
  const shot = useShot();
  const asked = shallowRef(now());

  function now() {
    return {
      of: {
        shot: shot.shot?.id ?? 0,
        revision: ofDecisions ? shot.revision : 0,
        change: ofDecisions ? shot.tried : {},
        still: ofStill ? shot.shown : 0,
      },
      // What is told of the stills also changes with a job that ended: the shot is read anew then.
      state: `${shot.state} ${shot.tailVersion}`,
      also: also(),
      wanted: Boolean(shot.shot?.id && shot.count && wanted()),
    };
  }

  const follow = when === "at once" ? useThrottleFn(take, every, true) : useDebounceFn(take, every);

  function take(): void {
    asked.value = now();
  }

  watch(now, (latest) => {
    const isOther = latest.of.shot !== asked.value.of.shot;
    if (isOther || !latest.wanted) into.value = undefined;
    // Another shot, or whether anybody looks, is no matter of how often.
    if (isOther || latest.wanted !== asked.value.wanted) take();
    else void follow();
  });

  const { answer } = useRead<Answer>(() => {
    const { of, state, also: more, wanted: isWanted } = asked.value;
    return {
      key: ["shot", of.shot, name, of.revision, of.still, state, JSON.stringify([of.change, more])],
      query: () => ask(of),
      wanted: isWanted,
      // Hardly anything comes again exactly as it was.
      gcTime: 2_000,
    };
  });
  watch(
    answer,
    (found) => {
      if (found !== undefined && asked.value.wanted && asked.value.of.shot === shot.shot?.id) into.value = found;
    },
    { immediate: true },
  );
  return into;
}
