import { useDebounceFn, useThrottleFn } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import {
  addresses,
  api,
  Problem,
  unreachable,
  type Clip,
  type EncodeWish,
  type Logo,
  type PartSpan,
  type ProjectSound,
  type Reel,
  type ReelDetail,
  type ReelPlayback,
  type RevisedReel,
  type Title,
  type Track,
} from "../../api/client";
import { onTold } from "../../api/events";
import { isSame } from "../../stores/merge";
import { useLines, useRevisions, type Revisions } from "../../stores/revisions";

/** The reel that is open: what is decided, which frame is looked at, and whether it plays. */
export const useReel = defineStore("reel", () => {
  const reel = shallowRef<ReelDetail>();
  /** What is decided about the reel that is open. */
  const line = shallowRef<Revisions<Reel, RevisedReel>>();
  const lines = useLines((id) =>
    useRevisions<Reel, RevisedReel>({
      keep: (seen, wanted) => api.decideReel(id, seen, wanted),
      read: () => api.reel(id),
      isHarmless: hasMoreSounds,
    }),
  );
  const decisions = computed(() => line.value?.shown);
  const kept = computed(() => line.value?.kept);
  const revision = computed(() => line.value?.revision ?? 0);
  const brief = computed(() => line.value?.answer?.brief);
  const parts = computed<PartSpan[]>(() => line.value?.answer?.parts ?? []);
  const canUndo = computed(() => line.value?.answer?.can_undo ?? false);
  const canRedo = computed(() => line.value?.answer?.can_redo ?? false);
  /** Why what was asked for last was not done. */
  const said = ref("");
  const refusal = computed(() => said.value || line.value?.refusal || "");
  const playback = shallowRef<ReelPlayback>();
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
  /** What is worked on: by its number, in its tab. */
  const part = ref<number>();
  const title = ref<number>();
  const track = ref<number>();
  let asked = 0;
  let opening = 0;

  const frames = computed(() => playback.value?.frames ?? 0);
  const rate = computed(() => playback.value?.frames_per_second ?? 25);
  const timecode = computed(() => playback.value?.timecodes[frame.value] ?? "");
  const tried = computed(() => (decisions.value === kept.value ? undefined : decisions.value));

  const toLookAt = computed(() => {
    const about = new Set((brief.value?.remarks ?? []).map((one) => one.about));
    return {
      order: about.has("part"),
      titles: about.has("title"),
      sound: about.has("track"),
      finish: (clips.value[0]?.differences.length ?? 0) > 0,
    };
  });
  /** What is to be known about a part, a title or a track. */
  const remarksOf = (about: string, id: number) =>
    (brief.value?.remarks ?? []).filter((one) => one.about === about && one.number === id).map((one) => one.sentence);

  async function open(id: number): Promise<void> {
    if (reel.value?.id !== id) leave();
    await lines.ended(id);
    const question = ++opening;
    const opened = await api.reel(id);
    if (question !== opening) return;
    reel.value = opened;
    line.value = lines.of(id);
    line.value.take(opened);
    const [heard, drawn, made] = await Promise.all([
      api.sounds(opened.project_id),
      api.logos(opened.project_id),
      api.reelClips(id),
    ]);
    if (question === opening) [sounds.value, logos.value, clips.value] = [heard, drawn, made];
  }

  function leave(): void {
    pause();
    void line.value?.settle();
    reel.value = playback.value = played.value = undefined;
    part.value = title.value = track.value = undefined;
    frame.value = 0;
    said.value = "";
  }

  async function rename(name: string): Promise<void> {
    if (reel.value) reel.value = await api.renameReel(reel.value.id, name);
  }

  /** Whether a reel only has more sounds than another: one that was being taken in has come. */
  function hasMoreSounds(now: Reel, before: Reel): boolean {
    const without = (one: Reel) => ({ ...one, sound: { ...one.sound, tracks: [] } });
    const { tracks } = before.sound;
    return isSame(without(now), without(before)) && isSame(now.sound.tracks.slice(0, tracks.length), tracks);
  }

  /** Keep a change; those that come while one is on its way follow it. */
  function decide(change: (decisions: Reel) => Partial<Reel>): Promise<void> {
    if (!reel.value || !line.value) return Promise.resolve();
    said.value = "";
    return line.value.decide((now) => ({ ...now, ...change(now) }));
  }

  /** Show a change without keeping it, as while something is dragged; `settle` keeps what is shown. */
  const attempt = (change: (decisions: Reel) => Partial<Reel>) =>
    line.value?.tryOut((now) => ({ ...now, ...change(now) }));
  const settle = (): Promise<void> => line.value?.settle() ?? Promise.resolve();
  const drop = () => line.value?.drop();

  /** Undo or redo, once what was changed before it is kept. */
  function back(way: typeof api.undoReel): Promise<void> {
    const id = reel.value?.id;
    if (!id || !line.value) return Promise.resolve();
    said.value = "";
    return line.value.change((seen) => way(id, seen));
  }

  const changeTitle = (id: number, change: Partial<Title>) => (now: Reel) => ({
    titles: now.titles.map((one) => (one.id === id ? { ...one, ...change } : one)),
  });
  const changeTrack = (id: number, change: Partial<Track>) => (now: Reel) => ({
    sound: { ...now.sound, tracks: now.sound.tracks.map((one) => (one.id === id ? { ...one, ...change } : one)) },
  });

  const planAnew = useThrottleFn(
    async () => {
      const id = reel.value?.id;
      if (!id || !revision.value) return;
      const mine = (asked += 1);
      try {
        const found = await api.reelPlayback(id, revision.value);
        if (id !== reel.value?.id || mine !== asked) return;
        // What fades in from black says nothing yet: the first frame that is shown is one that is all there.
        if (!playback.value && !frame.value) frame.value = decisions.value?.fades.picture_in ?? 0;
        const before = playback.value;
        const same =
          before !== undefined &&
          before.sound === found.sound &&
          before.segments.length === found.segments.length &&
          before.segments.every((one, at) => one.key === found.segments[at]!.key);
        playback.value = found;
        frame.value = Math.max(0, Math.min(frame.value, found.frames - 1));
        if (!found.frames) pause();
        else if (playing.value && !same) begun.value += 1;
      } catch (error) {
        said.value = error instanceof Problem ? error.message : unreachable;
        pause();
      }
    },
    150,
    true,
  );

  watch([() => reel.value?.id, revision], () => void planAnew());

  /** Have what playing would begin with made while the frame is looked at, so that it begins at once. */
  const makeReady = useDebounceFn(() => {
    const now = playback.value;
    const segment = now?.segments.findLast((one) => one.first <= frame.value);
    if (!now || !segment || playing.value) return;
    for (const address of [
      addresses.segment(segment.key),
      addresses.reelSound(now.sound, segment.first, segment.frames),
    ])
      fetch(address).catch(() => undefined);
  }, 250);
  watch([playback, frame], () => void makeReady());

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
    said.value = "";
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
    const [id, of] = [reel.value!.id, line.value!];
    await of.settle();
    await api.encode({ kind: "reels", id }, of.revision, wish);
  }

  async function makeAnew(clip: number): Promise<void> {
    const of = line.value!;
    await of.settle();
    await api.makeAnew(clip, of.revision);
  }

  onTold("back", () => reel.value && void open(reel.value.id).then(planAnew));
  onTold("reel", (told) => {
    if (told.id !== reel.value?.id) return;
    void open(told.id).then(planAnew);
  });
  onTold("job", (job) => {
    if (job.reel_id !== reel.value?.id || job.state !== "finished" || job.kind !== "reel") return;
    void open(job.reel_id!).then(() => (played.value = clips.value[0]));
  });

  return {
    ...{
      reel,
      decisions,
      revision,
      brief,
      parts,
      toLookAt,
      remarksOf,
      canUndo,
      canRedo,
      refusal,
      playback,
      frame,
      frames,
      rate,
      timecode,
      tried,
    },
    ...{ playing, moving, waiting, begun, sounds, logos, clips, played, compared, part, title, track },
    ...{
      open,
      rename,
      refuse: (sentence: string) => (said.value = sentence),
      decide,
      attempt,
      settle,
      drop,
      changeTitle,
      changeTrack,
      planAnew,
      goTo,
      step,
      play,
      pause,
      toggle,
      encode,
      makeAnew,
    },
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
