import { useThrottleFn } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";

import { api, Problem, type Brief, type Clip, type Decisions, type Order, type Shot, type Still, type Stills } from "../api/client";
import { onTold } from "../api/events";
import type { Step } from "../screens/steps";

/** A change to some decisions: whole steps, or single values in them. */
export type Change = { [Name in keyof Decisions]?: Partial<Decisions[Name]> };

/** The shot that is open: its stills, its decisions, and which still is looked at. */
export const useShot = defineStore("shot", () => {
  const shot = shallowRef<Shot>();
  const stills = shallowRef<Stills>({ stills: [], left_out: [], found: "" });
  const clips = shallowRef<Clip[]>([]);
  const order = shallowRef<Order>();
  const decisions = shallowRef<Decisions>();
  const brief = shallowRef<Brief>();
  const current = ref(0);
  const peeked = ref<number>();
  const tailVersion = ref(0);
  const refusal = ref("");
  const played = shallowRef<Clip>();
  let revision = 0;
  let keeping: Promise<void> = Promise.resolve();

  const count = computed(() => stills.value.stills.length);
  const shown = computed(() => Math.min(peeked.value ?? current.value, Math.max(0, count.value - 1)));
  const shownStill = computed<Still | undefined>(() => stills.value.stills[shown.value]);
  const toLookAt = computed<Record<Step, boolean>>(() => {
    const looks = (brief.value?.parts ?? []).filter((part) => part.look);
    return {
      gather: stills.value.left_out.length > 0,
      order: (order.value?.breaks ?? []).some((one) => one.kind !== "skipped"),
      fit: looks.some((part) => ["how", "size", "position"].includes(part.control)),
      pace: looks.some((part) => part.control === ""),
      encode: clips.value[0] !== undefined && clips.value[0].differences.length > 0,
    };
  });

  async function open(id: number): Promise<void> {
    if (shot.value?.id !== id) {
      shot.value = undefined;
      current.value = 0;
      peeked.value = undefined;
      played.value = undefined;
    }
    const [opened, found, ordered, made] = await Promise.all([api.shot(id), api.stills(id), api.order(id), api.clips(id)]);
    take(opened, opened.revision);
    stills.value = found;
    order.value = ordered;
    const isNew = opened.id === shot.value?.id && made.length > clips.value.length;
    clips.value = made;
    if (isNew || !made.some((clip) => clip.id === played.value?.id)) played.value = isNew ? made[0] : undefined;
    shot.value = opened;
    tailVersion.value += 1;
    refusal.value = "";
  }

  function take(answer: { decisions: Decisions; brief: Brief }, number: number): void {
    decisions.value = answer.decisions;
    brief.value = answer.brief;
    revision = number;
  }

  const reload = useThrottleFn(async () => shot.value && open(shot.value.id), 1200, true);

  function changed(change: Change): Decisions {
    const before = decisions.value!;
    return {
      order: { ...before.order, ...change.order },
      fit: { ...before.fit, ...change.fit },
      pace: { ...before.pace, ...change.pace },
      encode: { ...before.encode, ...change.encode },
    };
  }

  const say = useThrottleFn(
    async () => {
      const asked = decisions.value!;
      try {
        const said = await api.brief(shot.value!.id, asked);
        if (decisions.value === asked) brief.value = said;
      } catch (error) {
        refusal.value = error instanceof Problem ? error.message : "";
      }
    },
    120,
    true,
  );

  /** Show a change while it is being made, without keeping it. */
  function tryOut(change: Change): void {
    decisions.value = changed(change);
    void say();
  }

  /** Make a change and keep it as a new revision; changes made meanwhile are kept in turn. */
  function decide(change: Change): Promise<void> {
    const wanted = changed(change);
    const before = decisions.value!;
    decisions.value = wanted;
    refusal.value = "";
    keeping = keeping.then(() => keep(wanted, before));
    return keeping;
  }

  async function keep(wanted: Decisions, before: Decisions): Promise<void> {
    try {
      const kept = await api.decide(shot.value!.id, revision, wanted);
      revision = kept.revision;
      if (wanted.order.by !== before.order.by) await open(shot.value!.id);
      if (decisions.value === wanted) take(kept, kept.revision);
    } catch (error) {
      const stale = error instanceof Problem && error.code === "stale_revision";
      if (decisions.value === wanted) decisions.value = before;
      if (stale) await open(shot.value!.id);
      refusal.value = error instanceof Problem ? error.message : "The change could not be kept. Try again.";
    }
  }

  async function encode(): Promise<void> {
    await keeping;
    await api.encode(shot.value!.id, revision);
  }

  function goTo(position: number): void {
    peeked.value = undefined;
    played.value = undefined;
    current.value = Math.max(0, Math.min(count.value - 1, position));
  }

  onTold("stills", (told) => told.shot_id === shot.value?.id && void reload());
  onTold("job", (job) => {
    if (job.shot_id === shot.value?.id && job.state === "finished") void reload();
  });
  onTold("connected", () => void reload());

  return {
    ...{ shot, stills, clips, order, played, decisions, brief, current, peeked, tailVersion, refusal },
    ...{ count, shown, shownStill, toLookAt },
    ...{ open, tryOut, decide, encode, goTo },
  };
});
