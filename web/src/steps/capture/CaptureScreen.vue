<script setup lang="ts">
import Button from "primevue/button";
import { computed, onMounted, ref, shallowRef, watch } from "vue";
import { useRouter } from "vue-router";

import {
  api,
  Problem,
  type CameraFound,
  type CameraState,
  type Capture,
  type Captured,
  type Planned,
} from "../../api/client";
import { onTold } from "../../api/events";
import { newest } from "../../api/newest";
import { useAttempt } from "../../parts/sentences";
import { useHead } from "../../stores/head";
import { useProject } from "../../stores/project";
import { useShot } from "../../stores/shot";
import { plainTail } from "../../tail/columns";
import ShotTail from "../../tail/ShotTail.vue";
import { exposureText } from "./exposure";
import LiveView from "./LiveView.vue";

const props = defineProps<{ projectId: number; shotId?: number; planId?: number }>();

const router = useRouter();
const project = useProject();
useHead(() => project.project && { project: project.project, inside: "capture" });
const shot = useShot();
const { refusal, attempt } = useAttempt();
const cameras = shallowRef<CameraFound[]>([]);
const state = shallowRef<CameraState>();
const captured = shallowRef<Captured | null>(null);
const plan = shallowRef<Planned>();
const sentence = ref("");
const away = ref("");

const name = ref("A shot");
const camera = ref("");
const interval = ref("5 s");
const ending = ref<"count" | "span" | "until">("count");
const count = ref(300);
const span = ref("25 min");
const until = ref("");
const starts = ref("");
const follow = ref(false);
const most = ref(50);
const rate = computed(() => (captured.value ? shot.decisions?.pace.rate : plan.value?.planned.rate) ?? "25");
const runs = computed(() => captured.value !== null && ["waiting", "running"].includes(captured.value.job.state));
const sets = computed(() => (state.value?.exposures_s.length ?? 0) > 0);
const shape = computed<[number, number]>(() => {
  const size = shot.decisions?.fit.size;
  return captured.value && size ? [size.width, size.height] : [16, 9];
});

/** The times of day that were typed, as the next moment the clock shows them. */
function moment(clock: string): string | null {
  if (!clock) return null;
  const at = new Date();
  const [hours = 0, minutes = 0, seconds = 0] = clock.split(":").map(Number);
  at.setHours(hours, minutes, seconds, 0);
  if (at.getTime() < Date.now() - 1000) at.setDate(at.getDate() + 1);
  return at.toISOString();
}

async function wish(): Promise<Capture> {
  const begins = moment(starts.value);
  let span_s: number | null = null;
  if (ending.value === "span") span_s = (await api.duration(span.value)).seconds;
  if (ending.value === "until") {
    const end = moment(until.value);
    if (!end) throw new Problem("no_end", 0, "Say at what time it shall end.");
    span_s = Math.max(1, (Date.parse(end) - (begins ? Date.parse(begins) : Date.now())) / 1000);
  }
  return {
    camera: camera.value,
    interval_ms: Math.round((await api.duration(interval.value)).seconds * 1000),
    count: ending.value === "count" ? count.value : null,
    span_s,
    starts_at: begins,
    follow: follow.value,
    most_exposure: most.value / 100,
  };
}

const askForBrief = newest(
  async () => api.captureBrief(await wish(), rate.value),
  (found) => (sentence.value = found.sentence),
);
const askForState = newest(
  (key: string) => api.cameraState(key),
  (found) => (state.value = found),
);

function say(): Promise<void> {
  if (captured.value || !camera.value) return Promise.resolve();
  return attempt(askForBrief);
}

async function lookAtCamera(): Promise<void> {
  if (!camera.value) return;
  try {
    away.value = "";
    await askForState(camera.value);
  } catch (error) {
    state.value = undefined;
    away.value = error instanceof Problem ? error.message : String(error);
  }
}

function expose(exposure_s: number, sensitivity: number): Promise<void> {
  return attempt(async () => {
    const settings = await api.setCamera(camera.value, exposure_s, sensitivity);
    if (state.value) state.value = { ...state.value, settings };
  });
}

function begin(): Promise<void> {
  return attempt(async () => {
    const begun = await api.beginCapture(
      props.projectId,
      name.value.trim() || "A shot",
      await wish(),
      plan.value?.planned ?? null,
    );
    await router.replace({ name: "capture", params: { project: props.projectId, shot: begun.shot_id } });
  });
}

const askForCapture = newest(
  (id: number) => api.captureOf(id),
  (found) => {
    askForState.overtake();
    captured.value = found;
    if (found) camera.value = found.capture.camera;
    if (found?.camera) state.value = found.camera;
    away.value = found?.camera_away ?? "";
  },
);

async function load(): Promise<void> {
  if (props.shotId) await askForCapture(props.shotId);
}

const act = (work: () => Promise<unknown>) =>
  attempt(async () => {
    await work();
    await load();
  });

/**
 * Loading while loading would pile up behind a slow camera: one at a time, and once more if something came meanwhile.
 */
let loading = false;
let again = false;
async function follows(): Promise<void> {
  if (loading) return void (again = true);
  loading = true;
  do {
    again = false;
    await attempt(load);
  } while (again);
  loading = false;
}

watch(
  () => [props.projectId, props.shotId] as const,
  ([id, shotId]) =>
    attempt(async () => {
      await project.load(id);
      askForCapture.overtake();
      captured.value = null;
      if (shotId) await Promise.all([shot.open(shotId), load()]);
    }),
  { immediate: true },
);
watch([camera], () => void lookAtCamera());
watch([camera, interval, ending, count, span, until, starts, follow], () => void say());
onTold("capture", (told) => (told.shot_id === undefined || told.shot_id === props.shotId) && void follows());
onTold("job", (job) => job.kind === "capture" && job.shot_id === props.shotId && void follows());

onMounted(() =>
  attempt(async () => {
    cameras.value = await api.cameras();
    if (props.planId) {
      plan.value = (await api.plans(props.projectId)).find((one) => one.id === props.planId);
      const planned = plan.value?.planned;
      if (planned) {
        name.value = planned.name;
        interval.value = `${planned.interval_ms / 1000} s`;
        count.value = planned.stills;
      }
    }
    camera.value ||= cameras.value[0]?.key ?? "";
  }),
);
</script>

<template>
  <main class="capture">
    <h1 class="for-listening">Capture</h1>
    <p class="brief" role="status">{{ captured ? captured.sentence : sentence }}</p>
    <div class="columns">
      <div v-if="captured" class="tail"><ShotTail v-if="shot.shot && shot.count" :own="plainTail" /></div>
      <section class="sheet plain-form" aria-label="The capture">
        <template v-if="!captured">
          <label class="line"><span>Shot</span><input v-model="name" maxlength="120" /></label>
          <label class="line"
            ><span>Camera</span>
            <select v-model="camera">
              <option v-for="one in cameras" :key="one.key" :value="one.key">{{ one.name }}</option>
            </select></label
          >
          <label class="line"><span>A still every</span><input v-model.lazy="interval" class="number" /></label>
          <fieldset>
            <legend>It ends</legend>
            <label
              ><input v-model="ending" type="radio" value="count" /> after
              <input
                v-model.number.lazy="count"
                class="number short"
                type="number"
                min="1"
                aria-label="number of stills"
                @focus="ending = 'count'"
              />
              stills</label
            >
            <label
              ><input v-model="ending" type="radio" value="span" /> after
              <input v-model.lazy="span" class="number short" aria-label="for how long" @focus="ending = 'span'"
            /></label>
            <label
              ><input v-model="ending" type="radio" value="until" /> at
              <input
                v-model.lazy="until"
                type="time"
                step="1"
                aria-label="at what time it ends"
                @focus="ending = 'until'"
            /></label>
          </fieldset>
          <label class="line"
            ><span>It starts</span
            ><span
              ><input v-model.lazy="starts" type="time" step="1" aria-label="at what time it starts" />
              <span class="quiet">or at once</span></span
            ></label
          >
        </template>
        <template v-if="sets && state?.settings">
          <h2>Exposure</h2>
          <div class="line">
            <select
              aria-label="exposure"
              class="number"
              :value="state.settings.exposure_s"
              @change="expose(Number(($event.target as HTMLSelectElement).value), state!.settings!.sensitivity)"
            >
              <option v-for="one in state.exposures_s" :key="one" :value="one">{{ exposureText(one) }}</option>
            </select>
            <select
              aria-label="sensitivity"
              class="number"
              :value="state.settings.sensitivity"
              @change="expose(state!.settings!.exposure_s, Number(($event.target as HTMLSelectElement).value))"
            >
              <option v-for="one in state.sensitivities" :key="one" :value="one">ISO {{ one }}</option>
            </select>
          </div>
          <label v-if="!captured" class="check"
            ><input v-model="follow" type="checkbox" />
            <span
              >goes with the light, in small steps, up to
              <input
                v-model.number.lazy="most"
                class="number tiny"
                type="number"
                min="1"
                max="100"
                aria-label="most of the interval, in percent"
              />
              % of the interval</span
            ></label
          >
          <p v-else-if="captured.capture.follow" class="quiet">It goes with the light.</p>
        </template>
        <p v-if="state" class="quiet">
          {{ state.name
          }}<template v-if="state.battery !== null">, battery {{ Math.round(state.battery * 100) }} %</template
          ><template v-if="state.stills_left !== null"
            >, {{ state.stills_left.toLocaleString("en") }} stills fit on its card</template
          >.
        </p>
        <p v-if="away" class="warning" role="alert">{{ away }}</p>
        <ul v-if="captured?.warnings.length" class="warnings" role="alert">
          <li v-for="one in captured.warnings" :key="one">{{ one }}</li>
        </ul>
        <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
        <Button
          v-if="!captured"
          label="Start shooting"
          class="main-action"
          :disabled="!camera || Boolean(away)"
          @click="begin"
        />
        <p v-else-if="runs" class="acts">
          <button
            v-if="captured.paused"
            type="button"
            class="plain-button"
            @click="act(() => api.goOnCapturing(captured!.job.id))"
          >
            go on
          </button>
          <button v-else type="button" class="plain-button" @click="act(() => api.pauseCapture(captured!.job.id))">
            pause
          </button>
          <button type="button" class="plain-button" @click="act(() => api.stopCapture(captured!.job.id))">stop</button>
        </p>
        <p v-else>{{ captured.job.message }}</p>
        <p v-if="captured?.paused && runs" class="quiet">It rests: stills are left out until it goes on.</p>
        <p v-if="captured && shot.count > 1" class="acts links">
          <RouterLink :to="{ name: 'shot', params: { shot: shotId, step: 'pace' } }">play the clip so far</RouterLink>
          <RouterLink :to="{ name: 'shot', params: { shot: shotId, step: 'check' } }">what the check finds</RouterLink>
          <RouterLink :to="{ name: 'shot', params: { shot: shotId, step: 'encode' } }">encode</RouterLink>
        </p>
        <template v-if="captured?.gaps.length">
          <h2>Missing or late</h2>
          <ul class="gaps">
            <li v-for="gap in captured.gaps.slice(0, 40)" :key="gap.first">
              <span class="number">{{ gap.first + 1 }}{{ gap.last > gap.first ? ` – ${gap.last + 1}` : "" }}</span>
              {{ gap.sentence }}
            </li>
          </ul>
        </template>
      </section>
      <LiveView v-if="camera && (!captured || runs)" :camera="camera" :shape="shape" :calm="runs" />
      <div v-else class="mat-only"></div>
    </div>
  </main>
</template>

<style scoped>
.capture {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}

.brief {
  border-bottom: 1px solid var(--hair);
  font-family: var(--heading);
  font-size: var(--type-lead);
  font-variant-numeric: tabular-nums;
  line-height: 1.38;
  min-height: 3.2rem;
  padding: 0.6rem 1.1rem;
}

.columns {
  display: grid;
  grid-auto-columns: minmax(0, 1fr);
  grid-template-columns: 330px minmax(0, 1fr);
  min-height: 0;
}

.columns:has(.tail) {
  grid-template-columns: 150px 330px minmax(0, 1fr);
}

.tail {
  border-right: 1px solid var(--hair);
  display: grid;
  min-height: 0;
}

.sheet {
  align-content: start;
  border-right: 1px solid var(--hair);
  display: grid;
  gap: 0.8rem;
  overflow: auto;
  padding: 1.1rem;
}

.line {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 6.2rem minmax(0, 1fr);
}

div.line {
  grid-template-columns: 1fr 1fr;
}

.line select,
.line > input {
  width: 100%;
}

fieldset {
  border: 0;
  display: grid;
  gap: 0.3rem;
  margin: 0;
  padding: 0;
}

legend {
  margin-bottom: 0.3rem;
  padding: 0;
}

.short {
  width: 6rem;
}

.tiny {
  width: 3.6rem;
}

.check {
  display: grid;
  gap: 0.4rem;
  grid-template-columns: auto 1fr;
}

.warnings {
  color: var(--saffron-ink);
  margin: 0;
  padding-left: 1.1rem;
}

.gaps {
  display: grid;
  gap: 0.2rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

.links a {
  padding: 0.1rem 0.3rem;
}

.mat-only {
  background: var(--mat-plain);
}
</style>
