<script setup lang="ts">
import Button from "primevue/button";
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
import JobLine from "../../queue/JobLine.vue";
import { useJobs } from "../../queue/jobs";
import PlaceBrowser from "../../files/PlaceBrowser.vue";
import UploadArea from "../../files/UploadArea.vue";
import { useUpload } from "../../files/upload";
import { useShot } from "../../stores/shot";

/** The short way: five questions fill the page from the left; each answer is one of the full steps. */
const questions = ["where", "length", "shape", "better", "words"] as const;
type Question = (typeof questions)[number];

const titles: Record<Question, string> = {
  where: "Where are the stills?",
  length: "How long should it be?",
  shape: "Which shape?",
  better: "Even the light, steady it?",
  words: "Title and music?",
};
const steps: Record<Question, string> = {
  where: "gather",
  length: "pace",
  shape: "fit",
  better: "light and move",
  words: "a reel",
};

const shot = useShot();
const jobs = useJobs();
const upload = useUpload();
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
  where: sent.value || (folder.value ? folder.value.path.split("/").at(-1) || folder.value.root : ""),
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
    await attempt(async () => begin(await api.beginClip(folder.value!.root, folder.value!.path)));
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

/**
 * A folder has been copied; one that was on its way into a project before this page was opened stays where it belongs.
 */
function copied(started: ShotStarted): void {
  if (!isSentHere) return;
  sent.value = upload.name;
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

/** Enter goes on from wherever it means nothing else: a button or a link does what it says. */
function enter(event: KeyboardEvent): void {
  const field = event.target as HTMLElement;
  if (field.closest("button, a, summary, select, textarea")) return;
  // What was typed last counts: a field says that it was changed once it is left.
  field.blur();
  field.focus();
  void next();
}

watch(answers, () => void trial(), { deep: true });
onTold("job", (told) => told.state !== "waiting" && told.state !== "running" && void attempt(() => ended(told)));

const stages: Record<string, string> = {
  measuring: "Measuring how the camera moved",
  sound: "Making up the music",
  encoding: "Encoding and comparing every frame",
};
</script>

<template>
  <main class="now" @keydown.enter="enter">
    <h1 class="for-listening">Make a clip now</h1>
    <ol class="questions">
      <li
        v-for="(question, index) in questions.slice(0, at + 1)"
        :key="question"
        :class="{ active: index === at && !making && !clip }"
      >
        <button
          v-if="index !== at || making || clip"
          type="button"
          class="answered"
          :disabled="Boolean(making || clip)"
          @click="go(index)"
        >
          <small class="quiet">{{ titles[question] }}</small>
          <strong>{{ said[question] }}</strong>
          <small class="quiet">{{ steps[question] }}</small>
        </button>
        <form v-else class="plain-form" @submit.prevent>
          <h2>{{ titles[question] }}</h2>
          <template v-if="question === 'where'">
            <UploadArea :into="projectFor" @made="copied" />
            <h3 v-if="!upload.running">or use one where it lies</h3>
            <PlaceBrowser v-if="!upload.running" v-model="folder" />
            <p v-if="folder">
              <template v-if="folder.stills"
                >{{ folder.stills.toLocaleString("en") }} stills, <span class="number">{{ folder.first }}</span> to
                <span class="number">{{ folder.last }}</span></template
              >
              <span v-else class="quiet">Open the folder the stills lie in.</span>
            </p>
          </template>
          <template v-else-if="question === 'length'">
            <label class="big"
              ><input
                v-model.lazy="answers.length"
                data-first
                :placeholder="proposals?.length ?? 'as it comes'"
                aria-label="How long, such as 12 s"
            /></label>
            <p class="quiet">
              <template v-if="proposals"
                >Each still once at 25 a second gives {{ proposals.length }}. Type another length, or leave
                it.</template
              >
              <template v-else>Type a length such as 12 s, or leave it to the number of stills.</template>
            </p>
          </template>
          <template v-else-if="question === 'shape'">
            <div class="shapes">
              <label
                v-for="(one, place) in proposals?.shapes ?? [{ name: '16:9', size: { width: 1920, height: 1080 } }]"
                :key="one.name"
                class="shape"
              >
                <input
                  v-model="answers.size"
                  type="radio"
                  name="shape"
                  :value="one.size"
                  :data-first="place === 0 || undefined"
                />
                <span class="outline" :style="{ aspectRatio: `${one.size.width} / ${one.size.height}` }"></span>
                <span
                  >{{ one.name }} <small class="quiet">{{ one.size.width }} × {{ one.size.height }}</small></span
                >
              </label>
            </div>
          </template>
          <template v-else-if="question === 'better'">
            <label class="tick"
              ><input v-model="answers.even" type="checkbox" data-first />
              <span
                >even the light<br /><small class="quiet">{{
                  proposals?.about_light ?? "Once the stills are gathered it is known whether that helps."
                }}</small></span
              ></label
            >
            <label class="tick"
              ><input v-model="answers.steady" type="checkbox" />
              <span
                >steady the picture<br /><small class="quiet">{{
                  proposals?.about_movement ?? "Once the stills are gathered it is known whether that helps."
                }}</small></span
              ></label
            >
          </template>
          <template v-else>
            <label class="line"
              ><span>Title</span><input v-model.lazy="answers.title" data-first maxlength="200" placeholder="none"
            /></label>
            <label class="line"
              ><span>Music</span>
              <select v-model="answers.music">
                <option value="">none</option>
                <option v-for="one in proposals?.music ?? []" :key="one.kind" :value="one.kind">{{ one.name }}</option>
              </select></label
            >
            <p class="quiet">With a title or music the clip becomes a reel of this one shot.</p>
          </template>
          <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
          <div class="on">
            <Button
              :label="index < questions.length - 1 ? 'Go on' : 'Make the clip'"
              class="main-action"
              type="button"
              :disabled="
                (question === 'where' && !folder?.stills && !folder?.folders.length) ||
                (index === questions.length - 1 && !gathered)
              "
              @click="next"
            />
            <span class="quiet"
              >or Enter. It lives in <em>{{ steps[question] }}</em>.</span
            >
          </div>
        </form>
      </li>
    </ol>
    <section class="preview" aria-label="What it will be">
      <p class="sentence" role="status">
        {{ clip ? "" : (tried?.sentence ?? (shotId ? "" : "The clip appears here as the questions are answered.")) }}
        <template v-if="clip">The clip is done: {{ clip.evidence || "verified" }}</template>
      </p>
      <video v-if="clip" :src="addresses.clip(clip.id)" controls :poster="addresses.poster(clip.id, 0)"></video>
      <div v-else class="mat">
        <img v-if="picture" :src="picture" alt="The middle frame as it will be" />
        <ol v-else-if="!shotId" class="to-come">
          <li v-for="question in questions" :key="question">{{ titles[question] }}</li>
        </ol>
      </div>
      <div class="under">
        <template v-if="job && (making || !gathered)">
          <span v-if="making">{{ stages[stage] }}</span>
          <JobLine :job="job" />
        </template>
        <p v-if="clip" class="acts">
          <a :href="addresses.download(clip.id)" download>save the file</a>
          <RouterLink v-if="reel" :to="{ name: 'reel', params: { reel, tab: 'finish' } }">open the reel</RouterLink>
          <RouterLink :to="{ name: 'shot', params: { shot: shotId, step: 'fit' } }"
            >open all steps of the shot</RouterLink
          >
        </p>
        <p v-else-if="shotId" class="quiet">
          Nothing here is final:
          <RouterLink :to="{ name: 'shot', params: { shot: shotId, step: 'fit' } }">all steps of this shot</RouterLink>
          are open.
        </p>
      </div>
    </section>
  </main>
</template>

<style scoped>
.now {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  min-height: 0;
}

.questions {
  display: flex;
  list-style: none;
  margin: 0;
  min-height: 0;
  overflow: auto;
  padding: 0;
}

.questions li {
  border-right: 1px solid var(--hair);
}

.questions li.active {
  background: var(--bright-paper);
}

.answered {
  align-content: start;
  background: none;
  border: 0;
  color: inherit;
  cursor: pointer;
  display: grid;
  font: inherit;
  gap: 0.3rem;
  height: 100%;
  padding: 1.4rem 0.7rem;
  text-align: left;
  width: 104px;
}

.answered:disabled {
  cursor: default;
}

.answered strong {
  overflow-wrap: anywhere;
}

form {
  align-content: start;
  display: grid;
  gap: 1rem;
  padding: 1.4rem 1.2rem;
  width: 340px;
}

h2 {
  font-size: var(--type-large);
}

.big input {
  font-family: var(--mono);
  font-size: var(--type-large);
  width: 100%;
}

.shapes {
  display: grid;
  gap: 0.5rem;
}

.shape {
  align-items: center;
  cursor: pointer;
  display: grid;
  gap: 0.7rem;
  grid-template-columns: auto 64px 1fr;
}

.outline {
  border: 2px solid var(--ink);
  justify-self: center;
  max-width: 60px;
  height: 34px;
}

.shape:has(:checked) .outline {
  background: var(--line-pale);
  border-color: var(--line);
}

.tick {
  cursor: pointer;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: auto 1fr;
}

.line {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 4rem 1fr;
}

.on .main-action {
  flex: none;
  white-space: nowrap;
}

.to-come {
  background: var(--bright-paper);
  display: grid;
  font-family: var(--heading);
  font-size: var(--type-lead);
  gap: 0.3rem;
  margin: 0;
  padding: 1rem 1.6rem 1rem 2.4rem;
}

.on {
  align-items: center;
  display: flex;
  gap: 0.9rem;
}

.preview {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
  min-width: 0;
}

.sentence {
  font-family: var(--heading);
  font-size: var(--type-lead);
  line-height: 1.38;
  min-height: 4.6rem;
  padding: 0.8rem 1.1rem;
}

.mat {
  align-items: center;
  background: var(--mat-plain);
  display: grid;
  justify-items: center;
  min-height: 0;
  padding: 1.2rem;
}

.mat img,
video {
  max-height: 100%;
  max-width: 100%;
  min-height: 0;
}

video {
  background: var(--mat-plain);
  height: 100%;
  width: 100%;
}

.under {
  display: grid;
  gap: 0.3rem;
  min-height: 3.6rem;
  padding: 0.7rem 1.1rem;
}
</style>
