import { computed, nextTick, ref, shallowRef, watch } from "vue";

import {
  addresses,
  api,
  Problem,
  type Answers,
  type Clip,
  type Folder,
  type Job,
  type Proposals,
  type ShotStarted,
  type TriedAnswers,
} from "../../api/client";
import { onTold } from "../../api/events";
import { newest } from "../../api/newest";
import { useAttempt } from "../../parts/sentences";
import { useJobs } from "../../queue/jobs";
import { isSame } from "../../stores/merge";
import { useShot } from "../../stores/shot";

/** The questions of the short way, and the full step each answer belongs to. */
export const questions = ["where", "length", "shape", "better", "words"] as const;
export type Question = (typeof questions)[number];

export const titles: Record<Question, string> = {
  where: "Where are the stills?",
  length: "How long should it be?",
  shape: "Which shape?",
  better: "Even the light, steady it?",
  words: "Title and music?",
};
export const steps: Record<Question, string> = {
  where: "gather",
  length: "pace",
  shape: "fit",
  better: "light and move",
  words: "a reel",
};

/** What stands for a file of one's own among the kinds of music. */
export const OWN_MUSIC = "own";

const unanswered: Answers = {
  length: "",
  size: { width: 1920, height: 1080 },
  even: true,
  steady: false,
  title: "",
  music: "",
};

/** What somebody answered before anything was proposed. */
function answered(answers: Answers): Partial<Answers> {
  const changed = Object.entries(answers).filter(([name, value]) => !isSame(value, unanswered[name as keyof Answers]));
  return Object.fromEntries(changed);
}

/** The short way from a folder to a clip: where it is, what was answered, and what comes of it. */
export function useNow() {
  const shot = useShot();
  const jobs = useJobs();
  const { refusal, attempt } = useAttempt();
  const at = ref(0);
  const folder = ref<Folder>();
  /** The name of a folder that was copied, in place of one where it lies. */
  const sent = ref("");
  /** Whether each folder in it becomes a clip of its own. */
  const each = ref(false);
  /** The shots, one as a rule; what is answered is answered about the first, and holds for all. */
  const started = shallowRef<ShotStarted[]>([]);
  const shotId = computed(() => started.value[0]?.shot_id);
  /** The jobs that still gather them. */
  const gathering = ref(new Set<number>());
  const proposals = shallowRef<Proposals>();
  const answers = ref<Answers>({ ...unanswered });
  /** A piece of music of one's own. */
  const music = shallowRef<File>();
  const tried = shallowRef<TriedAnswers>();
  const making = shallowRef<Job>();
  const stage = ref("");
  const reel = ref<number | null>(null);
  /** The clips that are made by now, in the order of the shots. */
  const clips = shallowRef<Clip[]>([]);
  const clip = computed(() => (clips.value.length === started.value.length ? clips.value[0] : undefined));

  const gathered = computed(
    () => shot.shot?.id === shotId.value && Boolean(shot.shot?.gathered) && !gathering.value.size,
  );
  const job = computed(() =>
    jobs.all.find((one) => (making.value ? one.id === making.value.id : gathering.value.has(one.id))),
  );
  const middle = computed(() => shot.stills.stills[Math.floor(shot.count / 2)]);
  const picture = computed(() => {
    if (!shotId.value || shot.shot?.id !== shotId.value || !middle.value || !shot.revision) return undefined;
    return addresses.framed(shotId.value, middle.value, shot.revision, tried.value?.change ?? {}, 900);
  });

  const said = computed<Record<Question, string>>(() => ({
    where:
      started.value.length > 1
        ? `${started.value.length} folders`
        : sent.value || (folder.value ? folder.value.path.split("/").at(-1) || folder.value.location : ""),
    length: answers.value.length || (proposals.value ? `as it comes: ${proposals.value.length}` : "as it comes"),
    shape: `${answers.value.size.width} × ${answers.value.size.height}`,
    better:
      [answers.value.even && "even light", answers.value.steady && "steady"].filter(Boolean).join(", ") || "as it is",
    words:
      [
        answers.value.title && `“${answers.value.title}”`,
        answers.value.music === OWN_MUSIC
          ? music.value?.name
          : proposals.value?.music.find((one) => one.kind === answers.value.music)?.name,
      ]
        .filter(Boolean)
        .join(", ") || "none",
  }));

  async function next(): Promise<void> {
    if (making.value || clip.value) return;
    if (questions[at.value] === "where") {
      if (!folder.value || (!folder.value.stills && !folder.value.folders.length)) return;
      const { location, path, folders } = folder.value;
      await attempt(async () =>
        each.value && folders.length > 1
          ? begin(await api.beginClips(location, path))
          : begin([await api.beginClip(location, path)]),
      );
    } else if (at.value < questions.length - 1) go(at.value + 1);
    else await make();
  }

  /** Go on with shots that are being gathered: of folders where they lie, or that were copied. */
  async function begin(these: ShotStarted[]): Promise<void> {
    started.value = these;
    gathering.value = new Set(these.map(({ job }) => job.id));
    await shot.open(shotId.value!);
    await jobs.load();
    go(1);
  }

  let isSentHere = false;

  async function projectFor(name: string): Promise<number> {
    isSentHere = true;
    return (await api.projectForClip(name)).project_id;
  }

  /** A folder has been copied; one that was on its way into a project before this page stays where it belongs. */
  function copied(these: ShotStarted[], name: string, trouble = ""): void {
    if (!isSentHere) return;
    sent.value = name;
    // What of it did not come is still to be read once the others are gone on with.
    void attempt(() => begin(these)).then(() => (refusal.value ||= trouble));
  }

  function go(to: number): void {
    if (making.value || clip.value || (to > 0 && !shotId.value)) return;
    at.value = to;
    void nextTick(() => document.querySelector<HTMLElement>(".questions form [data-first]")?.focus());
  }

  /** The job that is waited for: when it is done, what comes next is asked for. */
  function make(): Promise<void> {
    return attempt(async () => {
      const { shot_id: id } = started.value[clips.value.length]!;
      const step = await api.makeClip(id, answers.value, reel.value);
      [stage.value, reel.value] = [step.stage, step.reel];
      // A reel that waits for a piece of music gets it from here.
      making.value = step.job ?? (await sendMusic(step.reel!));
      await jobs.load();
    });
  }

  async function sendMusic(to: number): Promise<Job> {
    if (!music.value) throw new Problem("no_music", 409, "The file of the music is gone. Choose it again.");
    return api.sendSound(to, music.value);
  }

  async function ended(of: Job): Promise<void> {
    if (gathering.value.has(of.id) && shotId.value) {
      gathering.value = new Set([...gathering.value].filter((id) => id !== of.id));
      await shot.open(shotId.value);
      await propose();
    }
    if (of.id !== making.value?.id) return;
    if (of.state !== "finished") {
      making.value = undefined;
      refusal.value = of.message || "It was cancelled. Enter begins again.";
    } else if (stage.value !== "encoding") {
      making.value = undefined;
      await make();
    } else {
      const { shot_id: id } = started.value[clips.value.length]!;
      const found = await (reel.value ? api.reelClips(reel.value) : api.clips(id));
      clips.value = [...clips.value, found.find((one) => one.id === of.clip_id) ?? found[0]!];
      making.value = undefined;
      if (clip.value) return;
      reel.value = null;
      await make();
    }
  }

  const askForProposals = newest(
    (id: number) => api.proposeAnswers(id),
    (found) => {
      if (!proposals.value) answers.value = { ...found.answers, ...answered(answers.value) };
      proposals.value = found;
    },
  );
  const askForTrial = newest(
    (id: number) => api.tryAnswers(id, answers.value),
    (found) => (tried.value = found),
  );

  function propose(): Promise<void> {
    return attempt(async () => {
      await askForProposals(shotId.value!);
      await trial();
    });
  }

  async function trial(): Promise<void> {
    if (!gathered.value || clip.value) return;
    await attempt(() => askForTrial(shotId.value!));
  }

  watch(answers, () => void trial(), { deep: true });
  onTold("job", (told) => told.state !== "waiting" && told.state !== "running" && void attempt(() => ended(told)));

  return {
    ...{
      started,
      shotId,
      at,
      folder,
      each,
      music,
      answers,
      proposals,
      tried,
      making,
      stage,
      reel,
      clip,
      clips,
      gathered,
      job,
      picture,
      said,
      refusal,
    },
    ...{ next, go, projectFor, copied },
  };
}
