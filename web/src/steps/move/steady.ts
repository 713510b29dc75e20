import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { api, type TradeOff, type Decisions, type Job, type Observation, type Steadied } from "../../api/client";
import { onTold } from "../../api/events";
import { useFrames } from "../../stage/frames";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";

export type Steady = Decisions["move"]["steady"];

/** What is made even over a number of stills. */
export type Smoothed = "place_over" | "level_over" | "size_over";
const smoothed: Smoothed[] = ["place_over", "level_over", "size_over"];

/**
 * How stills are laid against each other: what is decided, what was measured, what it costs, and the points that are
 * held.
 */
export const useSteady = defineStore("steady", () => {
  const shot = useShot();
  const frames = useFrames();
  const found = shallowRef<Steadied>();
  const tradeOffs = shallowRef<TradeOff[]>();
  const observations = shallowRef<Observation[]>();
  /** The job that measures, as it was heard of last. */
  const job = shallowRef<Job>();
  /** Which point a click on the stage says where it is. */
  const pointing = ref(0);
  const steady = computed<Steady>(() => shot.decisions!.move.steady);
  const isMeasuring = computed(() => job.value !== undefined && ["waiting", "running"].includes(job.value.state));

  const set = (change: Partial<Steady>) => shot.decide({ move: { steady: { ...steady.value, ...change } } });
  const attempt = (change: Partial<Steady>) => shot.tryOut({ move: { steady: { ...steady.value, ...change } } });

  /** Begin one of the ways, with what was found out about the shot, and measure what that takes. */
  async function choose(how: Steady["how"]): Promise<void> {
    const over =
      found.value?.is_complete && steady.value.how === "off"
        ? { place_over: found.value.proposed, level_over: found.value.proposed, size_over: found.value.proposed }
        : {};
    await set({ how, ...(how === "glide" ? over : {}) });
    if (how === "anchor" && !steady.value.points.length) point(0);
    else if (how !== "off") await measure();
  }

  /** Take a strength: so many stills for all that is made even, or a share of what was found. */
  function take(strength: number): Promise<void> {
    const over = smoothed.filter((name) => steady.value[name] > 0).map((name) => [name, strength]);
    return set(steady.value.how === "glide" ? Object.fromEntries(over) : { share: strength });
  }

  async function measure(): Promise<void> {
    const begun = await api.measureMove(shot.shot!.id);
    if (begun) job.value = begun;
  }

  /** Let the next click on the stage say where a point is. */
  function point(number: number): void {
    pointing.value = number;
    frames.show("around");
    frames.drawing = "point";
  }

  /** Say where a point is in the still that is looked at; from there on it is followed from this place. */
  async function put(at: { x: number; y: number }): Promise<void> {
    frames.drawing = undefined;
    const place = await api.pointed(shot.shot!.id, shot.shown, at.x, at.y, shot.revision, shot.tried);
    const points = [...steady.value.points];
    // One that was forgotten meanwhile leaves no gap.
    const number = Math.min(pointing.value, points.length);
    const places = points[number]?.places.filter((one) => one.still !== place.still) ?? [];
    points[number] = { places: [...places, place] };
    await set({ points });
    await measure();
  }

  async function forget(number: number): Promise<void> {
    await set({ points: steady.value.points.filter((_, place) => place !== number) });
    await measure();
  }

  watch(
    () => shot.shot?.id,
    () => {
      found.value = job.value = tradeOffs.value = observations.value = undefined;
    },
  );
  onTold("job", (told) => {
    if (told.kind === "move" && told.shot_id === shot.shot?.id) job.value = told;
  });

  /** Ask anew whenever what is shown or decided changes, as long as somebody looks. */
  function follow(): void {
    const isAnchored = () => steady.value.how === "anchor" && steady.value.points.length > 0;
    useDerived("steadied", (of) => api.steadied(of.shot, of.revision, of.change), {
      ...{ into: found },
      ...{ when: "at once", every: 150 },
    });
    useDerived("trade-offs", (of) => api.tradeOffs(of.shot, of.revision, of.change), {
      ...{ into: tradeOffs, wanted: () => steady.value.how !== "off", every: 400 },
    });
    useDerived("observations", (of) => api.observations(of.shot, of.still, of.revision, of.change), {
      ...{ into: observations, ofStill: true, wanted: isAnchored },
      ...{ when: "at once", every: 80 },
    });
    watch(found, (answer) => {
      if (answer?.job) job.value = answer.job;
    });
  }

  return {
    found,
    tradeOffs,
    observations,
    job,
    pointing,
    steady,
    isMeasuring,
    set,
    attempt,
    choose,
    take,
    measure,
    point,
    put,
    forget,
    follow,
  };
});
