<script setup lang="ts">
import { computed, ref, watch } from "vue";

import { api, Problem, type Planned, type PlannedShot } from "../../api/client";
import { numberIn, textIn, vShown } from "../../parts/shown";
import CrossingTool from "./CrossingTool.vue";
import KitList from "./KitList.vue";
import LensFields from "./LensFields.vue";
import ShapesTool from "./ShapesTool.vue";
import SubjectTable from "./SubjectTable.vue";
import SuppliesFields from "./SuppliesFields.vue";

/** What a planned shot is taken of, with, where and when. */
const props = defineProps<{ planned: Planned }>();
type Part = (planned: PlannedShot) => Partial<PlannedShot>;
const emit = defineEmits<{ keep: [part: Part]; interval: [text: string] }>();

const refusal = ref("");
const plan = computed(() => props.planned.planned);
const zones = Intl.supportedValuesOf("timeZone");
const here = Intl.DateTimeFormat().resolvedOptions().timeZone;

async function exposing(name: "exposure_s" | "writing_s" | "metered_s", text: string): Promise<void> {
  refusal.value = "";
  const cleaned = text.replace(/\s*s$/, "").trim();
  if (!cleaned && name === "metered_s")
    return emit("keep", (now) => ({ exposing: { ...now.exposing, metered_s: null } }));
  try {
    const { seconds } = await api.duration(cleaned || "0");
    emit("keep", (now) => ({ exposing: { ...now.exposing, [name]: seconds } }));
  } catch (error) {
    refusal.value = error instanceof Problem ? error.message : String(error);
  }
}

const whenStarts = (starts: string) => emit("keep", () => ({ starts: starts || null }));
const noted = (note: string) => emit("keep", () => ({ note }));

function spot(part: Partial<NonNullable<PlannedShot["spot"]>>): void {
  emit("keep", (now) => ({ spot: { latitude: 0, longitude: 0, zone: here, ...now.spot, ...part } }));
}

watch(
  () => props.planned.id,
  () => (refusal.value = ""),
);
</script>

<template>
  <div class="conditions plain-form">
    <section aria-labelledby="of-what">
      <h2 id="of-what">What moves</h2>
      <SubjectTable
        :subject="plan.subject"
        :rate="plan.rate"
        @subject="emit('keep', () => ({ subject: $event }))"
        @interval="emit('interval', $event)"
      />
      <CrossingTool :rate="plan.rate" @interval="emit('interval', $event)" />
      <ShapesTool />
    </section>
    <section aria-labelledby="exposing">
      <h2 id="exposing">Exposing</h2>
      <div class="fields">
        <label
          ><span>each still for</span
          ><input class="number" v-shown="planned.exposing.exposure" @change="exposing('exposure_s', textIn($event))"
        /></label>
        <label
          ><span>writing it takes</span
          ><input class="number" v-shown="planned.exposing.writing" @change="exposing('writing_s', textIn($event))"
        /></label>
        <label
          ><span>metered without a filter</span
          ><input
            class="number"
            v-shown="planned.exposing.metered"
            placeholder="1/500 s"
            @change="exposing('metered_s', textIn($event))"
        /></label>
      </div>
      <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    </section>
    <section aria-labelledby="where">
      <h2 id="where">Where and when</h2>
      <div class="fields">
        <label class="wide"
          ><span>starts</span
          ><input type="datetime-local" v-shown="plan.starts?.slice(0, 16)" @change="whenStarts(textIn($event))"
        /></label>
        <label
          ><span>latitude, north +</span
          ><input
            class="number"
            type="number"
            min="-90"
            max="90"
            step="any"
            v-shown="plan.spot?.latitude"
            @change="spot({ latitude: numberIn($event) })"
        /></label>
        <label
          ><span>longitude, east +</span
          ><input
            class="number"
            type="number"
            min="-180"
            max="180"
            step="any"
            v-shown="plan.spot?.longitude"
            @change="spot({ longitude: numberIn($event) })"
        /></label>
        <label class="wide"
          ><span>clock there</span
          ><select :value="plan.spot?.zone ?? 'UTC'" @change="spot({ zone: textIn($event) })">
            <option v-for="zone in ['UTC', ...zones]" :key="zone">{{ zone }}</option>
          </select></label
        >
      </div>
    </section>
    <SuppliesFields :planned="planned" @keep="emit('keep', $event)" />
    <LensFields :planned="planned" @keep="emit('keep', $event)" />
    <KitList :planned="planned" @keep="emit('keep', $event)" />
    <section aria-labelledby="note">
      <h2 id="note">Note</h2>
      <textarea
        rows="2"
        maxlength="1000"
        aria-labelledby="note"
        v-shown="plan.note"
        @change="noted(textIn($event))"
      ></textarea>
    </section>
  </div>
</template>

<style scoped src="./conditions.css"></style>
<style scoped>
.conditions {
  align-content: start;
  display: grid;
  gap: 1.6rem;
}
</style>
