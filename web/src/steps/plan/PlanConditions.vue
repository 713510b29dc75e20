<script setup lang="ts">
import { computed, ref, watch } from "vue";

import { api, Problem, type Planned, type PlannedShot } from "../../api/client";
import { vShown } from "../../parts/shown";
import CrossingTool from "./CrossingTool.vue";
import SubjectTable from "./SubjectTable.vue";

/** What a planned shot is taken of, with, where and when. */
const props = defineProps<{ planned: Planned }>();
type Part = (planned: PlannedShot) => Partial<PlannedShot>;
const emit = defineEmits<{ keep: [part: Part]; interval: [text: string] }>();

const refusal = ref("");
const plan = computed(() => props.planned.planned);
const megabytes = computed(() => Math.round(plan.value.supplies.still_bytes / 100_000) / 10);
const card = computed(() => plan.value.supplies.card_bytes / 1e9);
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

const text = (event: Event) => (event.target as HTMLInputElement).value;
const number = (event: Event) => Number((event.target as HTMLInputElement).value);

const whenStarts = (starts: string) => emit("keep", () => ({ starts: starts || null }));
const noted = (note: string) => emit("keep", () => ({ note }));

function supplies(part: Partial<PlannedShot["supplies"]>): void {
  emit("keep", (now) => ({ supplies: { ...now.supplies, ...part } }));
}

const picker = ref<HTMLInputElement>();
const megapixels = ref<number | "">("");
const files = ref<"raw" | "jpeg" | "both">("raw");

async function sizeOf(): Promise<void> {
  if (!megapixels.value) return;
  try {
    const { bytes } = await api.stillSize(megapixels.value, files.value !== "jpeg", files.value !== "raw");
    supplies({ still_bytes: bytes });
  } catch (error) {
    refusal.value = error instanceof Problem ? error.message : String(error);
  }
}

/** A sample still is not sent anywhere: how much it takes is all that is asked. */
function sample(file: File | undefined): void {
  if (file?.size) supplies({ still_bytes: file.size });
}

function lens(part: Partial<NonNullable<PlannedShot["lens"]>>): void {
  const usual = { focal_mm: 24, f_number: 2.8, sensor_width_mm: 36, pixels: 6000, declination_deg: 0 };
  emit("keep", (now) => ({ lens: { ...usual, ...now.lens, ...part } }));
}

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
    </section>
    <section aria-labelledby="exposing">
      <h2 id="exposing">Exposing</h2>
      <div class="fields">
        <label
          ><span>each still for</span
          ><input class="number" v-shown="planned.exposing.exposure" @change="exposing('exposure_s', text($event))"
        /></label>
        <label
          ><span>writing it takes</span
          ><input class="number" v-shown="planned.exposing.writing" @change="exposing('writing_s', text($event))"
        /></label>
        <label
          ><span>metered without a filter</span
          ><input
            class="number"
            v-shown="planned.exposing.metered"
            placeholder="1/500 s"
            @change="exposing('metered_s', text($event))"
        /></label>
      </div>
      <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    </section>
    <section aria-labelledby="where">
      <h2 id="where">Where and when</h2>
      <div class="fields">
        <label class="wide"
          ><span>starts</span
          ><input type="datetime-local" v-shown="plan.starts?.slice(0, 16)" @change="whenStarts(text($event))"
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
            @change="spot({ latitude: number($event) })"
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
            @change="spot({ longitude: number($event) })"
        /></label>
        <label class="wide"
          ><span>clock there</span
          ><select :value="plan.spot?.zone ?? 'UTC'" @change="spot({ zone: text($event) })">
            <option v-for="zone in ['UTC', ...zones]" :key="zone">{{ zone }}</option>
          </select></label
        >
      </div>
    </section>
    <section aria-labelledby="supplies">
      <h2 id="supplies">Card, battery, counter</h2>
      <div class="fields">
        <label
          ><span>a still takes, MB</span
          ><input
            class="number"
            type="number"
            min="0.1"
            step="0.1"
            v-shown="megabytes"
            @change="supplies({ still_bytes: Math.max(1, Math.round(number($event) * 1e6)) })"
        /></label>
        <span class="acts from"
          ><button type="button" class="plain-button" @click="picker?.click()">as much as a sample still …</button
          ><input
            ref="picker"
            type="file"
            hidden
            aria-label="a sample still"
            @change="sample(($event.target as HTMLInputElement).files?.[0])"
        /></span>
        <label class="wide"
          ><span>or from its megapixels</span
          ><span class="size-of"
            ><input
              v-model.number.lazy="megapixels"
              class="number"
              type="number"
              min="0.1"
              step="any"
              placeholder="24"
              aria-label="megapixels"
              @change="sizeOf"
            /><select v-model="files" aria-label="files written of each still" @change="sizeOf">
              <option value="raw">raw</option>
              <option value="jpeg">JPEG</option>
              <option value="both">both</option>
            </select></span
          ></label
        >
        <label
          ><span>card, GB</span
          ><input
            class="number"
            type="number"
            min="0"
            step="any"
            v-shown="card || ''"
            placeholder="64"
            @change="supplies({ card_bytes: Math.round(number($event) * 1e9) })"
        /></label>
        <label
          ><span>stills a charge</span
          ><input
            class="number"
            type="number"
            min="0"
            v-shown="plan.supplies.per_charge || ''"
            placeholder="600"
            @change="supplies({ per_charge: number($event) })"
        /></label>
        <label
          ><span>charges</span
          ><input
            class="number"
            type="number"
            min="1"
            v-shown="plan.supplies.charges"
            @change="supplies({ charges: Math.max(1, number($event)) })"
        /></label>
        <label
          ><span>next file number</span
          ><input
            class="number"
            type="number"
            min="0"
            max="9999"
            v-shown="plan.supplies.next_number ?? ''"
            placeholder="0001"
            @change="supplies({ next_number: text($event) === '' ? null : number($event) })"
        /></label>
      </div>
    </section>
    <section aria-labelledby="lens">
      <h2 id="lens">Lens, for stars</h2>
      <div class="fields">
        <label
          ><span>focal length, mm</span
          ><input
            class="number"
            type="number"
            min="1"
            step="any"
            v-shown="plan.lens?.focal_mm ?? ''"
            placeholder="24"
            @change="lens({ focal_mm: number($event) })"
        /></label>
        <label
          ><span>opening, f/</span
          ><input
            class="number"
            type="number"
            min="0.5"
            step="any"
            v-shown="plan.lens?.f_number ?? ''"
            placeholder="2.8"
            @change="lens({ f_number: number($event) })"
        /></label>
        <label
          ><span>sensor width, mm</span
          ><input
            class="number"
            type="number"
            min="1"
            step="any"
            v-shown="plan.lens?.sensor_width_mm ?? ''"
            placeholder="36"
            @change="lens({ sensor_width_mm: number($event) })"
        /></label>
        <label
          ><span>pixels along it</span
          ><input
            class="number"
            type="number"
            min="100"
            v-shown="plan.lens?.pixels ?? ''"
            placeholder="6000"
            @change="lens({ pixels: number($event) })"
        /></label>
        <label
          ><span>stars' declination, °</span
          ><input
            class="number"
            type="number"
            min="-90"
            max="90"
            step="any"
            v-shown="plan.lens?.declination_deg ?? ''"
            placeholder="0"
            @change="lens({ declination_deg: number($event) })"
        /></label>
      </div>
    </section>
    <section aria-labelledby="note">
      <h2 id="note">Note</h2>
      <textarea
        rows="2"
        maxlength="1000"
        aria-labelledby="note"
        v-shown="plan.note"
        @change="noted(text($event))"
      ></textarea>
    </section>
  </div>
</template>

<style scoped>
.conditions,
section {
  align-content: start;
  display: grid;
  gap: 0.6rem;
}

.conditions {
  gap: 1.6rem;
}

.fields {
  display: grid;
  gap: 0.35rem 1.4rem;
  grid-template-columns: 1fr 1fr;
}

.fields label {
  align-items: center;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: minmax(0, 1fr) 7.2rem;
}

.size-of {
  display: grid;
  gap: 0.4rem;
  grid-template-columns: 7.2rem 1fr;
}

.fields label.wide {
  grid-column: 1 / -1;
  grid-template-columns: minmax(0, 1fr) 17rem;
}

.from {
  align-items: center;
}
</style>
