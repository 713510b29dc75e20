import { useThrottleFn } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";

import {
  api,
  Problem,
  stillsState,
  type Brief,
  type Check,
  type Clip,
  type Decisions,
  type EncodeWish,
  type Order,
  type Revised,
  type Shot,
  type Sorting,
  type Still,
  type Stills,
  type Version,
} from "../api/client";
import { onTold } from "../api/events";
import type { Step } from "./steps";
import { isSame } from "./merge";
import { useLines, useRevisions, type Revisions } from "./revisions";

/** A change to some decisions: whole steps, or single values in them. */
export type Change = { [Name in keyof Decisions]?: Partial<Decisions[Name]> };

/** A stretch of the shot that is chosen for something: positions, first and last. */
export interface Stretch {
  first: number;
  last: number;
}

type Line = Revisions<Decisions, Revised>;

/** The shot that is open: its stills, its decisions, and which still is looked at. */
export const useShot = defineStore("shot", () => {
  const shot = shallowRef<Shot>();
  const stills = shallowRef<Stills>({ stills: [], left_out: [], found: "", state: "", away: 0 });
  const clips = shallowRef<Clip[]>([]);
  const order = shallowRef<Order>();
  /** What is decided about the shot that is open; of another one, what is still on its way is kept all the same. */
  const line = shallowRef<Line>();
  const brief = shallowRef<Brief>();
  /** The fit the brief speaks of, while a newer one may be tried. */
  const fitOfBrief = shallowRef<Decisions["fit"]>();
  const current = ref(0);
  const peeked = ref<number>();
  const tailVersion = ref(0);
  const played = shallowRef<Clip>();
  /** Two finished clips that are held against each other. */
  const compared = ref<[Clip, Clip]>();
  const sorting = shallowRef<Sorting>();
  const check = shallowRef<Check>();
  const stretch = shallowRef<Stretch>();
  /** The stills that are shown alone, by their ids: what is chosen is chosen among them. */
  const only = shallowRef<ReadonlySet<number>>();
  const lines = useLines(lineOf);
  const decisions = computed(() => line.value?.shown);
  const kept = computed(() => line.value?.kept);
  const revision = computed(() => line.value?.revision ?? 0);
  const versions = computed<Version[]>(() => line.value?.answer?.versions ?? []);
  const version = computed(() => line.value?.answer?.version ?? null);
  const canUndo = computed(() => line.value?.answer?.can_undo ?? false);
  const canRedo = computed(() => line.value?.answer?.can_redo ?? false);
  /** Why what was asked for last was not done. */
  const said = ref("");
  const refusal = computed(() => said.value || line.value?.refusal || "");

  const state = computed(() => stills.value.state);
  const count = computed(() => stills.value.stills.length);
  /** Where each still lies, by its id. */
  const positions = computed(() => new Map(stills.value.stills.map((one) => [one.id, one.position])));
  const shown = computed(() => Math.min(peeked.value ?? current.value, Math.max(0, count.value - 1)));
  const shownStill = computed<Still | undefined>(() => stills.value.stills[shown.value]);
  const aside = computed(() => new Set(decisions.value?.check.aside ?? []));
  /** Stills that are not in the clip: set aside, or away. */
  const out = computed(
    () => new Set([...aside.value, ...stills.value.stills.filter((still) => still.away).map((still) => still.id)]),
  );
  const mended = computed(() => {
    const { bridged = [], repeated = [] } = decisions.value?.check ?? {};
    return new Map([
      ...bridged.map((id) => [id, "bridged"] as const),
      ...repeated.map((id) => [id, "repeated"] as const),
    ]);
  });
  /** How stills are rated, by their ids: what was decided here counts more than what their files say. */
  const ratings = computed(() => {
    const said = stills.value.stills.flatMap((one) => (one.rating ? [[one.id, one.rating] as const] : []));
    const decided = (decisions.value?.check.rated ?? []).map((one) => [one.still, one.rating] as const);
    return new Map([...said, ...decided]);
  });
  const notes = computed(() => new Map(decisions.value?.check.notes.map((note) => [note.still, note.text])));
  /** The stretch that the clip is made of: positions, first and last. */
  const usedStretch = computed<Stretch>(() => {
    const { begin, end } = decisions.value?.check ?? {};
    const places = stills.value.stills;
    const first = begin ? places.findIndex((still) => still.id === begin) : 0;
    const last = end ? places.findIndex((still) => still.id === end) : -1;
    return { first: Math.max(0, first), last: last < 0 ? Math.max(0, places.length - 1) : last };
  });
  const openFindings = computed(() => (check.value?.findings ?? []).filter((one) => !one.settled));
  const chosen = computed<Still[]>(() => {
    const { first, last } = stretch.value ?? { first: current.value, last: current.value };
    const run = stills.value.stills.slice(first, last + 1);
    return only.value && run.length > 1 ? run.filter((still) => only.value!.has(still.id)) : run;
  });
  /** What is being tried and not kept yet, over the newest revision. */
  const tried = computed(() => {
    const change: Partial<Pick<Decisions, "light" | "fit" | "move" | "pace">> = {};
    if (decisions.value?.light !== kept.value?.light) change.light = decisions.value?.light;
    if (decisions.value?.fit !== kept.value?.fit) change.fit = decisions.value?.fit;
    if (decisions.value?.move !== kept.value?.move) change.move = decisions.value?.move;
    // The stills that were picked are as they were decided: a long list is not sent with every try.
    if (decisions.value && decisions.value.pace !== kept.value?.pace)
      change.pace = { ...decisions.value.pace, picked: [] };
    return change;
  });
  const toLookAt = computed<Record<Step, boolean>>(() => {
    const warned = (brief.value?.parts ?? []).filter((part) => part.warning);
    return {
      gather:
        stills.value.away > 0 ||
        (sorting.value?.proposals.length ?? 0) > 0 ||
        stills.value.left_out.some((file) => file.kind === "unreadable"),
      order: (order.value?.breaks ?? []).some((one) => one.kind !== "skipped"),
      check: openFindings.value.some((one) => one.severity < 3),
      light: false,
      fit: warned.some((part) => ["how", "size", "position", "surround"].includes(part.control)),
      move: false,
      pace: warned.some((part) => ["rate", "hold", "thin", "length"].includes(part.control)),
      encode: clips.value[0] !== undefined && clips.value[0].differences.length > 0,
    };
  });

  // Answers may come in another order than they were asked for: an older one never replaces a newer one.
  let asked = 0;
  let answered = 0;

  /** Open a shot, or look at it anew; what is being decided meanwhile is not lost by that. */
  async function open(id: number): Promise<void> {
    await lines.ended(id);
    await load(id);
  }

  async function load(id: number): Promise<void> {
    if (shot.value?.id !== id) leave();
    const question = ++asked;
    const [opened, found, made] = await Promise.all([api.shot(id), api.stills(id), api.clips(id)]);
    if (question < answered) return;
    answered = question;
    show(opened);
    stills.value = found;
    stillsState.value = found.state;
    current.value = Math.max(0, Math.min(current.value, found.stills.length - 1));
    if (stretch.value && stretch.value.last >= found.stills.length) stretch.value = undefined;
    const isNew = opened.id === shot.value?.id && made.length > clips.value.length;
    clips.value = made;
    if (isNew || !made.some((clip) => clip.id === played.value?.id)) played.value = isNew ? made[0] : undefined;
    shot.value = opened;
    tailVersion.value += 1;
    said.value = "";
    // What was found out about the order and the folder may come a moment later than the stills.
    const [ordered, sorted] = await Promise.all([api.order(id), api.sorting(id), lookAgain()]);
    if (shot.value?.id !== id) return;
    order.value = ordered;
    sorting.value = sorted;
  }

  /** Leave the shot that was open: nothing of it is shown with the next one. */
  function leave(): void {
    void line.value?.settle();
    shot.value = order.value = sorting.value = check.value = undefined;
    current.value = 0;
    peeked.value = undefined;
    played.value = undefined;
    stretch.value = only.value = undefined;
  }

  /** Show what is decided about a shot as it was read. */
  function show(opened: Shot): void {
    const now = lines.of(opened.id);
    const isOther = line.value !== now;
    line.value = now;
    // What was kept since it was asked for is newer than what was read.
    if (!now.take(opened) && isOther) speakOf(now.answer!);
  }

  function lineOf(id: number): Line {
    const made: Line = useRevisions<Decisions, Revised>({
      keep: (seen, wanted) => api.decide(id, seen, wanted),
      read: () => api.shot(id),
      taken: (answer, before, isNewest) => (line.value === made ? follow(answer, before, isNewest) : undefined),
    });
    return made;
  }

  function speakOf(answer: Revised): void {
    brief.value = answer.brief;
    fitOfBrief.value = answer.decisions.fit;
  }

  /** Show what follows from decisions: the sentence, and where stills lie and what of the check is settled by now. */
  async function follow(answer: Revised, before: Decisions | undefined, isNewest: boolean): Promise<void> {
    if (isNewest) speakOf(answer);
    if (!before || !shot.value) return;
    try {
      if (!isSame(answer.decisions.order, before.order)) await load(shot.value.id);
      else if (!isSame(answer.decisions.check, before.check)) await lookAgain();
    } catch {
      // What is decided is kept; the rest is read again once the program answers.
    }
  }

  /** Ask what the check found, and what of it is settled by now. */
  async function lookAgain(): Promise<void> {
    const id = shot.value?.id;
    if (!id) return;
    const found = await api.check(id);
    if (shot.value?.id === id) check.value = found;
  }

  const reload = useThrottleFn(async () => shot.value && open(shot.value.id), 1200, true);

  function changed(before: Decisions, change: Change): Decisions {
    return {
      order: { ...before.order, ...change.order },
      check: { ...before.check, ...change.check },
      light: { ...before.light, ...change.light },
      fit: { ...before.fit, ...change.fit },
      move: { ...before.move, ...change.move },
      pace: { ...before.pace, ...change.pace },
      encode: { ...before.encode, ...change.encode },
    };
  }

  const say = useThrottleFn(
    async () => {
      const asked = decisions.value!;
      try {
        const said = await api.brief(shot.value!.id, asked);
        if (decisions.value !== asked) return;
        brief.value = said;
        fitOfBrief.value = asked.fit;
      } catch (error) {
        said.value = error instanceof Problem ? error.message : "";
      }
    },
    120,
    true,
  );

  /** Show a change while it is being made, without keeping it; `settle` keeps it. */
  function tryOut(change: Change): void {
    line.value?.tryOut((now) => changed(now, change));
    // The brief says the same of any light: it is asked for once that is kept.
    if (Object.keys(change).some((step) => step !== "light")) void say();
  }

  const settle = (): Promise<void> => line.value?.settle() ?? Promise.resolve();

  /** Throw away what is tried: all is as it was before. */
  function drop(): void {
    line.value?.drop();
    void say();
  }

  /** Make a change and keep it as a new revision. */
  function decide(change: Change): Promise<void> {
    if (!shot.value || !line.value) return Promise.resolve();
    said.value = "";
    return line.value.decide((now) => changed(now, change));
  }

  /** Let the program make a change that it works out itself; what comes of it is shown. */
  function change(work: (shot: number, seen: number) => Promise<Revised>, may = () => true): Promise<void> {
    const id = shot.value?.id;
    if (!line.value || !id) return Promise.resolve();
    said.value = "";
    return line.value.change((seen) => work(id, seen), may);
  }

  async function encode(wish: EncodeWish = {}): Promise<void> {
    const [id, of] = [shot.value!.id, line.value!];
    await of.settle();
    await api.encode({ kind: "shots", id }, of.revision, wish);
  }

  /** Make a clip that is out of date again, as everything is decided by now. */
  async function makeAnew(clip: number): Promise<void> {
    const of = line.value!;
    await of.settle();
    await api.makeAnew(clip, of.revision);
  }

  function showVersions(versions: Version[]): void {
    if (line.value?.answer) line.value.answer = { ...line.value.answer, versions };
  }

  const undo = (of = line.value) => change(api.undo, () => of!.answer!.can_undo);
  const redo = (of = line.value) => change(api.redo, () => of!.answer!.can_redo);

  /** Leave the chosen stills out of the clip, or bring them back if all of them are out already. */
  function toggleAside(of: readonly Still[] = chosen.value): Promise<void> {
    const all = of.every((still) => aside.value.has(still.id));
    const ids = of.map((still) => still.id);
    return change((id, seen) => api.setAside(id, seen, ids, !all));
  }

  /** Choose the stretch from a fixed end to a position. */
  function choose(from: number, to: number): void {
    stretch.value = { first: Math.max(0, Math.min(from, to)), last: Math.min(count.value - 1, Math.max(from, to)) };
  }

  function goTo(position: number): void {
    peeked.value = undefined;
    played.value = compared.value = undefined;
    current.value = Math.max(0, Math.min(count.value - 1, position));
  }

  /** Take up the stills that have come since, while the shot is being gathered; the whole of it is read at the end. */
  const more: () => Promise<void> = useThrottleFn(
    async (): Promise<void> => {
      const id = shot.value?.id;
      if (!id) return;
      const known = stills.value.stills;
      const seen = answered;
      const found = await api.stills(
        id,
        known.reduce((most, still) => Math.max(most, still.id), 0),
      );
      if (shot.value?.id !== id) return;
      // The whole was read meanwhile: what came is held against that, or a shot that is finished would be unsaid.
      if (seen !== answered) return more();
      if (!(found.stills.length || found.left_out.length !== stills.value.left_out.length)) return;
      const all = together(known, found.stills);
      stills.value = { ...found, stills: all, found: `${all.length.toLocaleString("en")} stills so far.` };
      stillsState.value = found.state;
      showTail(found.stills.length);
    },
    1200,
    true,
  );

  let unseen = 0;

  /** Fetch the tail anew once it has become a good deal longer. */
  function showTail(come: number): void {
    unseen += come;
    if (unseen * 12 < stills.value.stills.length) return;
    unseen = 0;
    tailVersion.value += 1;
    void say();
  }

  onTold("stills", (told) => told.shot_id === shot.value?.id && void more());
  onTold("job", (job) => {
    if (job.shot_id === shot.value?.id && job.state === "finished") void reload();
  });
  onTold("connected", () => void reload());

  return {
    ...{
      shot,
      stills,
      clips,
      order,
      sorting,
      check,
      played,
      compared,
      decisions,
      brief,
      fitOfBrief,
      versions,
      version,
      current,
      peeked,
      stretch,
      only,
      tailVersion,
      refusal,
    },
    ...{
      state,
      count,
      positions,
      shown,
      shownStill,
      toLookAt,
      aside,
      out,
      mended,
      notes,
      ratings,
      usedStretch,
      openFindings,
      chosen,
      tried,
      revision,
      canUndo,
      canRedo,
    },
    ...{
      open,
      tryOut,
      drop,
      settle,
      decide,
      change,
      encode,
      makeAnew,
      goTo,
      showVersions,
      undo,
      redo,
      toggleAside,
      choose,
    },
  };
});

/** The stills that are known with those that came, in the order of their positions. */
export function together(known: Still[], come: Still[]): Still[] {
  const byId = new Map([...known, ...come].map((still) => [still.id, still]));
  return [...byId.values()].sort((one, other) => one.position - other.position || one.id - other.id);
}
