import { useDebounceFn, useThrottleFn } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { addresses, api, Problem, unreachable, type Clip, type EncodeWish, type Logo, type PartSpan, type ProjectSound, type Reel, type ReelDetail, type ReelPlan, type RevisedReel, type Title, type Track } from "../../api/client";
import { onTold } from "../../api/events";

/** The reel that is open: what is decided, which frame is looked at, and whether it plays. */
export const useReel = defineStore("reel", () => {
  const reel = shallowRef<ReelDetail>();
  const decisions = shallowRef<Reel>();
  const kept = shallowRef<Reel>();
  const revision = ref(0);
  const brief = shallowRef<ReelDetail["brief"]>();
  const parts = shallowRef<PartSpan[]>([]);
  const canUndo = ref(false);
  const canRedo = ref(false);
  const refusal = ref("");
  const plan = shallowRef<ReelPlan>();
  const frame = ref(0);
  const playing = ref(false);
  const moving = ref(false);
  const waiting = ref(false);
  const begun = ref(0);
  const sounds = shallowRef<ProjectSound[]>([]);
  const logos = shallowRef<Logo[]>([]);
  const clips = shallowRef<Clip[]>([]);
  const played = shallowRef<Clip>();
  /** Two finished files that are held against each other. */
  const compared = ref<[Clip, Clip]>();
  /** What is worked on: by its number, in its room. */
  const part = ref<number>();
  const title = ref<number>();
  const track = ref<number>();
  let keeping: Promise<void> = Promise.resolve();
  let asked = 0;

  const frames = computed(() => plan.value?.frames ?? 0);
  const rate = computed(() => plan.value?.frames_per_second ?? 25);
  const timecode = computed(() => plan.value?.timecodes[frame.value] ?? "");
  const tried = computed(() => (decisions.value === kept.value ? undefined : decisions.value));

  const toLookAt = computed(() => {
    const about = new Set((brief.value?.remarks ?? []).map((one) => one.about));
    return { "order": about.has("part"), titles: about.has("title"), sound: about.has("track"), finish: (clips.value[0]?.differences.length ?? 0) > 0 };
  });
  /** What is to be known about a part, a title or a track. */
  const remarksOf = (about: string, id: number) => (brief.value?.remarks ?? []).filter((one) => one.about === about && one.number === id).map((one) => one.sentence);

  function take(found: RevisedReel): void {
    decisions.value = kept.value = found.decisions;
    revision.value = found.revision;
    brief.value = found.brief;
    parts.value = found.parts;
    canUndo.value = found.can_undo;
    canRedo.value = found.can_redo;
  }

  async function open(id: number): Promise<void> {
    const anew = reel.value?.id !== id;
    if (anew) {
      pause();
      reel.value = plan.value = played.value = undefined;
      part.value = title.value = track.value = undefined;
      frame.value = 0;
      refusal.value = "";
    }
    const opened = await api.reel(id);
    reel.value = opened;
    // What was decided while the answer was on its way is not taken back by it.
    if (anew || (!tried.value && opened.revision >= revision.value)) take(opened);
    [sounds.value, logos.value, clips.value] = await Promise.all([api.sounds(opened.project_id), api.logos(opened.project_id), api.reelClips(id)]);
  }

  async function rename(name: string): Promise<void> {
    if (reel.value) reel.value = await api.renameReel(reel.value.id, name);
  }

  /** Keep a change; those that come while one is on its way follow it. */
  function decide(change: (decisions: Reel) => Partial<Reel>): Promise<void> {
    if (!decisions.value) return Promise.resolve();
    const wanted = (decisions.value = { ...decisions.value, ...change(decisions.value) });
    keeping = keeping.then(() => keep(wanted, change));
    return keeping;
  }

  /** Whether a reel only has more sounds than another: one that was being taken in has come. */
  function hasMoreSounds(now: Reel, before: Reel | undefined): boolean {
    const without = (one: Reel) => JSON.stringify({ ...one, sound: { ...one.sound, tracks: [] } });
    const tracks = before?.sound.tracks ?? [];
    return before !== undefined && without(now) === without(before) && JSON.stringify(now.sound.tracks.slice(0, tracks.length)) === JSON.stringify(tracks);
  }

  async function keep(wanted: Reel, change?: (decisions: Reel) => Partial<Reel>): Promise<void> {
    const id = reel.value?.id;
    if (!id || wanted === kept.value) return;
    try {
      const found = await api.decideReel(id, revision.value, wanted);
      if (id !== reel.value?.id) return;
      const newer = decisions.value;
      refusal.value = "";
      take(found);
      // What was changed meanwhile is shown on, and is kept next.
      if (newer !== wanted) decisions.value = newer;
    } catch (error) {
      const stale = error instanceof Problem && error.status === 409;
      const before = kept.value;
      decisions.value = kept.value;
      if (stale && id === reel.value?.id) {
        const now = await api.reel(id);
        take(now);
        if (change && hasMoreSounds(now.decisions, before)) {
          decisions.value = { ...now.decisions, ...change(now.decisions) };
          return keep(decisions.value);
        }
      }
      refusal.value = error instanceof Problem ? error.message : unreachable;
    }
  }

  /** Show a change without keeping it, as while something is dragged; `settle` keeps what is shown. */
  function attempt(change: (decisions: Reel) => Partial<Reel>): void {
    if (decisions.value) decisions.value = { ...decisions.value, ...change(decisions.value) };
  }

  function settle(): Promise<void> {
    const [now, before] = [decisions.value, kept.value];
    if (!now || !before || now === before) return Promise.resolve();
    const names = (Object.keys(now) as (keyof Reel)[]).filter((name) => now[name] !== before[name]);
    const changed = Object.fromEntries(names.map((name) => [name, now[name]]));
    return decide(() => changed);
  }

  /** Undo or redo, once what was changed before it is kept. */
  function back(way: typeof api.undoReel): Promise<void> {
    keeping = keeping.then(() => goBack(way));
    return keeping;
  }

  async function goBack(way: typeof api.undoReel): Promise<void> {
    const id = reel.value?.id;
    if (!id) return;
    try {
      take(await way(id, revision.value));
      refusal.value = "";
    } catch (error) {
      refusal.value = error instanceof Problem ? error.message : unreachable;
    }
  }

  const changeTitle = (id: number, change: Partial<Title>) => (now: Reel) => ({ titles: now.titles.map((one) => (one.id === id ? { ...one, ...change } : one)) });
  const changeTrack = (id: number, change: Partial<Track>) => (now: Reel) => ({
    sound: { ...now.sound, tracks: now.sound.tracks.map((one) => (one.id === id ? { ...one, ...change } : one)) },
  });

  const planAnew = useThrottleFn(
    async () => {
      const id = reel.value?.id;
      if (!id || !revision.value) return;
      const mine = (asked += 1);
      try {
        const found = await api.reelPlan(id, revision.value);
        if (id !== reel.value?.id || mine !== asked) return;
        // What fades in from black says nothing yet: the first frame that is shown is one that is all there.
        if (!plan.value && !frame.value) frame.value = decisions.value?.fades.picture_in ?? 0;
        const before = plan.value;
        const same = before?.sound === found.sound && before.segments.length === found.segments.length && before.segments.every((one, at) => one.key === found.segments[at]!.key);
        plan.value = found;
        frame.value = Math.max(0, Math.min(frame.value, found.frames - 1));
        if (!found.frames) pause();
        else if (playing.value && !same) begun.value += 1;
      } catch (error) {
        refusal.value = error instanceof Problem ? error.message : unreachable;
        pause();
      }
    },
    150,
    true,
  );

  watch([() => reel.value?.id, revision], () => void planAnew());

  /** Have what playing would begin with made while the frame is looked at, so that it begins at once. */
  const makeReady = useDebounceFn(() => {
    const now = plan.value;
    const segment = now?.segments.findLast((one) => one.first <= frame.value);
    if (!now || !segment || playing.value) return;
    for (const address of [addresses.segment(segment.key), addresses.reelSound(now.sound, segment.first, segment.frames)]) fetch(address).catch(() => undefined);
  }, 250);
  watch([plan, frame], () => void makeReady());

  function goTo(wanted: number): void {
    if (!frames.value) return;
    frame.value = Math.max(0, Math.min(frames.value - 1, wanted));
    if (playing.value) begun.value += 1;
  }

  function step(by: number): void {
    pause();
    goTo(frame.value + by);
  }

  function play(): void {
    if (!frames.value) return;
    refusal.value = "";
    played.value = undefined;
    moving.value = false;
    playing.value = true;
    begun.value += 1;
  }

  function pause(): void {
    playing.value = moving.value = waiting.value = false;
  }

  const toggle = () => (playing.value ? pause() : play());

  async function encode(wish: EncodeWish = {}): Promise<void> {
    await keeping;
    await api.encode({ kind: "reels", id: reel.value!.id }, revision.value, wish);
  }

  onTold("reel", (told) => {
    if (told.id !== reel.value?.id) return;
    void keeping.then(async () => {
      if (!tried.value) await open(told.id);
      await planAnew();
    });
  });
  onTold("job", (job) => {
    if (job.reel_id !== reel.value?.id || job.state !== "finished" || job.kind !== "reel") return;
    void open(job.reel_id!).then(() => (played.value = clips.value[0]));
  });

  return {
    ...{ reel, decisions, revision, brief, parts, toLookAt, remarksOf, canUndo, canRedo, refusal, plan, frame, frames, rate, timecode, tried },
    ...{ playing, moving, waiting, begun, sounds, logos, clips, played, compared, part, title, track },
    ...{ open, rename, decide, attempt, settle, changeTitle, changeTrack, planAnew, goTo, step, play, pause, toggle, encode },
    undo: () => back(api.undoReel),
    redo: () => back(api.redoReel),
  };
});

/** The next free number of parts, titles or tracks. */
export function nextId(things: readonly { id: number }[]): number {
  return things.reduce((most, one) => Math.max(most, one.id), 0) + 1;
}

const SAMPLES_A_SECOND = 48_000;
export const samples = (seconds: number) => Math.max(0, Math.round(seconds * SAMPLES_A_SECOND));
export const seconds = (count: number) => count / SAMPLES_A_SECOND;
