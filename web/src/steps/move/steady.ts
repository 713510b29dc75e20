import { useDebounceFn, useThrottleFn } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { api, type TradeOff, type Decisions, type Job, type Observation, type Steadied } from "../../api/client";
import { onTold } from "../../api/events";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";

export type Steady = Decisions["move"]["steady"];

/**
 * How stills are laid against each other: what is decided, what was measured, what it costs, and the points that are
 * held.
 */
export const useSteady = defineStore("steady", () => {
  const shot = useShot();
  const frames = useFrames();
  const found = shallowRef<Steadied>();
  const tradeOffs = shallowRef<TradeOff[]>([]);
  const observations = shallowRef<Observation[]>([]);
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
    if (how === "hold" && !steady.value.points.length) point(0);
    else if (how !== "off") await measure();
  }

  async function measure(): Promise<void> {
    const begun = await api.measureMove(shot.shot!.id);
    if (begun) job.value = begun;
    else look();
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

  const look = useThrottleFn(
    async () => {
      const id = shot.shot?.id;
      if (!id) return;
      const asked = shot.decisions;
      const answer = await api.steadied(id, shot.revision, shot.tried).catch(() => undefined);
      if (!answer || shot.shot?.id !== id || shot.decisions !== asked) return;
      found.value = answer;
      if (answer.job) job.value = answer.job;
    },
    150,
    true,
  );
  const lookAtCosts = useDebounceFn(async () => {
    const id = shot.shot?.id;
    if (!id || steady.value.how === "off") {
      tradeOffs.value = [];
      return;
    }
    const asked = shot.decisions;
    const answer = await api.tradeOffs(id, shot.revision, shot.tried).catch(() => undefined);
    if (answer && shot.shot?.id === id && shot.decisions === asked) tradeOffs.value = answer;
  }, 400);
  const lookAtPoints = useThrottleFn(
    async () => {
      const id = shot.shot?.id;
      const position = shot.shown;
      if (!id || steady.value.how !== "hold" || !steady.value.points.length) {
        observations.value = [];
        return;
      }
      const answer = await api.observations(id, position, shot.revision, shot.tried).catch(() => undefined);
      if (answer && shot.shot?.id === id && shot.shown === position) observations.value = answer;
    },
    80,
    true,
  );

  watch(
    () => shot.shot?.id,
    () => {
      found.value = job.value = undefined;
      tradeOffs.value = [];
      observations.value = [];
    },
  );
  onTold("job", (told) => {
    if (told.kind === "move" && told.shot_id === shot.shot?.id) job.value = told;
  });

  /** Ask anew whenever what is shown or decided changes, or the program was away, as long as somebody looks. */
  function follow(): void {
    const lookAll = () => {
      void look();
      void lookAtCosts();
    };
    watch(() => [shot.decisions, shot.revision, shot.state] as const, lookAll, { immediate: true });
    watch(
      () => [shot.decisions, shot.revision, shot.state, shot.shown] as const,
      () => void lookAtPoints(),
      { immediate: true },
    );
    onTold("back", () => {
      lookAll();
      void lookAtPoints();
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
    measure,
    point,
    put,
    forget,
    follow,
  };
});
