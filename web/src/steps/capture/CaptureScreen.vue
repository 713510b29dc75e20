<script setup lang="ts">
import Button from "primevue/button";
import { computed, onMounted, ref, shallowRef, watch } from "vue";
import { useRouter } from "vue-router";

import { api, type CameraFound, type Planned } from "../../api/client";
import { newest } from "../../api/newest";
import { useAttempt } from "../../parts/sentences";
import { useHead } from "../../stores/head";
import { useProject } from "../../stores/project";
import { useShot } from "../../stores/shot";
import { plainTail } from "../../tail/columns";
import ShotTail from "../../tail/ShotTail.vue";
import { useCamera } from "./camera";
import CaptureUnderWay from "./CaptureUnderWay.vue";
import ExposureFields from "./ExposureFields.vue";
import LiveView from "./LiveView.vue";
import { asPlanned, captureOf, useWish } from "./wish";
import WishFields from "./WishFields.vue";

const props = defineProps<{ projectId: number; shotId?: number; planId?: number }>();

const router = useRouter();
const project = useProject();
useHead(() => project.project && { project: project.project, inside: "capture" });
const shot = useShot();
const { refusal, attempt } = useAttempt();
const cameras = shallowRef<CameraFound[]>([]);
const plan = shallowRef<Planned>();
const sentence = ref("");

const wish = useWish();
const { state, captured, away, expose, load, act, leave } = useCamera(() => props.shotId, wish, attempt);
const rate = computed(() => (captured.value ? shot.decisions?.pace.rate : plan.value?.planned.rate) ?? "25");
const runs = computed(() => captured.value !== null && ["waiting", "running"].includes(captured.value.job.state));
const sets = computed(() => (state.value?.exposures_s.length ?? 0) > 0);
const shape = computed<[number, number]>(() => {
  const size = shot.decisions?.fit.size;
  return captured.value && size ? [size.width, size.height] : [16, 9];
});

const askForBrief = newest(
  async () => api.captureBrief(await captureOf(wish.value), rate.value),
  (found) => (sentence.value = found.sentence),
);

function say(): Promise<void> {
  if (captured.value || !wish.value.camera) return Promise.resolve();
  return attempt(askForBrief);
}

function begin(): Promise<void> {
  return attempt(async () => {
    const begun = await api.beginCapture(
      props.projectId,
      wish.value.name.trim() || "A shot",
      await captureOf(wish.value),
      plan.value?.planned ?? null,
    );
    await router.replace({ name: "capture", params: { project: props.projectId, shot: begun.shot_id } });
  });
}

watch(
  () => [props.projectId, props.shotId] as const,
  ([id, shotId]) =>
    attempt(async () => {
      await project.load(id);
      leave();
      if (shotId) await Promise.all([shot.open(shotId), load()]);
    }),
  { immediate: true },
);
watch(
  // A name changes nothing of what is said.
  () => JSON.stringify({ ...wish.value, name: "" }),
  () => void say(),
);

onMounted(() =>
  attempt(async () => {
    cameras.value = await api.cameras();
    if (props.planId) {
      plan.value = (await api.plans(props.projectId)).find((one) => one.id === props.planId);
      if (plan.value) asPlanned(wish.value, plan.value.planned);
    }
    wish.value.camera ||= cameras.value[0]?.key ?? "";
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
        <WishFields v-if="!captured" v-model="wish" :cameras="cameras" />
        <template v-if="sets && state?.settings">
          <ExposureFields :state="state" :settings="state.settings" @expose="expose" />
          <label v-if="!captured" class="check"
            ><input v-model="wish.follow" type="checkbox" />
            <span
              >goes with the light, in small steps, up to
              <input
                v-model.number.lazy="wish.most"
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
          :disabled="!wish.camera || Boolean(away)"
          @click="begin"
        />
        <CaptureUnderWay v-else :captured="captured" :runs="runs" @act="act" />
      </section>
      <LiveView v-if="wish.camera && (!captured || runs)" :camera="wish.camera" :shape="shape" :calm="runs" />
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

.mat-only {
  background: var(--mat-plain);
}
</style>
