import { computed, nextTick, ref, shallowRef, watch } from "vue";

import {
  addresses,
  api,
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

/** The short way from a folder to a clip: where it is, what was answered, and what comes of it. */
export function useNow() {
  const shot = useShot();
  const jobs = useJobs();
  const { refusal, attempt } = useAttempt();
  const at = ref(0);
  const folder = ref<Folder>();
  /** The name of a folder that was copied, in place of one where it lies. */
  const sent = ref("");
  const shotId = ref<number>();
  const gathering = ref<number>();
  const proposals = shallowRef<Proposals>();
  const answers = ref<Answers>({
    length: "",
    size: { width: 1920, height: 1080 },
    even: true,
    steady: false,
    title: "",
    music: "",
  });
  const tried = shallowRef<TriedAnswers>();
  const making = shallowRef<Job>();
  const stage = ref("");
  const reel = ref<number | null>(null);
  const clip = shallowRef<Clip>();

  const gathered = computed(() => shot.shot?.id === shotId.value && Boolean(shot.shot?.gathered));
  const job = computed(() => jobs.all.find((one) => one.id === (making.value?.id ?? gathering.value)));
  const middle = computed(() => shot.stills.stills[Math.floor(shot.count / 2)]);
  const picture = computed(() => {
    if (!shotId.value || shot.shot?.id !== shotId.value || !middle.value || !shot.revision) return undefined;
    return addresses.framed(shotId.value, middle.value, shot.revision, tried.value?.change ?? {}, 900);
  });

  const said = computed<Record<Question, string>>(() => ({
    where: sent.value || (folder.value ? folder.value.path.split("/").at(-1) || folder.value.location : ""),
    length: answers.value.length || (proposals.value ? `as it comes: ${proposals.value.length}` : "as it comes"),
    shape: `${answers.value.size.width} × ${answers.value.size.height}`,
    better:
      [answers.value.even && "even light", answers.value.steady && "steady"].filter(Boolean).join(", ") || "as it is",
    words:
      [
        answers.value.title && `“${answers.value.title}”`,
        answers.value.music && proposals.value?.music.find((one) => one.kind === answers.value.music)?.name,
      ]
        .filter(Boolean)
        .join(", ") || "none",
  }));

  async function next(): Promise<void> {
    if (making.value || clip.value) return;
    if (questions[at.value] === "where") {
      if (!folder.value || (!folder.value.stills && !folder.value.folders.length)) return;
      await attempt(async () => begin(await api.beginClip(folder.value!.location, folder.value!.path)));
    } else if (at.value < questions.length - 1) go(at.value + 1);
    else await make();
  }

  /** Go on with a shot that is being gathered: of a folder where it lies, or of one that was copied. */
  async function begin({ shot_id, job }: ShotStarted): Promise<void> {
    shotId.value = shot_id;
    gathering.value = job.id;
    await shot.open(shot_id);
    await jobs.load();
    go(1);
  }

  let isSentHere = false;

  async function projectFor(name: string): Promise<number> {
    isSentHere = true;
    return (await api.projectForClip(name)).project_id;
  }

  /** A folder has been copied; one that was on its way into a project before this page stays where it belongs. */
  function copied(started: ShotStarted, name: string): void {
    if (!isSentHere) return;
    sent.value = name;
    void attempt(() => begin(started));
  }

  function go(to: number): void {
    if (making.value || clip.value || (to > 0 && !shotId.value)) return;
    at.value = to;
    void nextTick(() => document.querySelector<HTMLElement>(".questions form [data-first]")?.focus());
  }

  /** The job that is waited for: when it is done, what comes next is asked for. */
  function make(): Promise<void> {
    return attempt(async () => {
      const step = await api.makeClip(shotId.value!, answers.value, reel.value);
      [stage.value, reel.value, making.value] = [step.stage, step.reel, step.job];
      await jobs.load();
    });
  }

  async function ended(of: Job): Promise<void> {
    if (of.id === gathering.value && shotId.value) {
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
      const found = await (reel.value ? api.reelClips(reel.value) : api.clips(shotId.value!));
      clip.value = found.find((one) => one.id === of.clip_id) ?? found[0];
      making.value = undefined;
    }
  }

  const askForProposals = newest(
    (id: number) => api.proposeAnswers(id),
    (found) => {
      const { length, title, music } = answers.value;
      if (!proposals.value) answers.value = { ...found.answers, length, title, music };
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
      shotId,
      at,
      folder,
      answers,
      proposals,
      tried,
      making,
      stage,
      reel,
      clip,
      gathered,
      job,
      picture,
      said,
      refusal,
    },
    ...{ next, go, projectFor, copied },
  };
}
