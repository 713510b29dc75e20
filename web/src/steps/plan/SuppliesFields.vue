<script setup lang="ts">
import { computed, ref } from "vue";

import { api, type Planned, type PlannedShot } from "../../api/client";
import { numberIn, textIn, vShown } from "../../parts/shown";
import { useAttempt } from "../../parts/sentences";

/** What a planned shot takes of the card and the battery, and where the camera's counter stands. */
const props = defineProps<{ planned: Planned }>();
const emit = defineEmits<{ keep: [part: (planned: PlannedShot) => Partial<PlannedShot>] }>();

const { refusal, attempt } = useAttempt();
const plan = computed(() => props.planned.planned);
const megabytes = computed(() => Math.round(plan.value.supplies.still_bytes / 100_000) / 10);
const card = computed(() => plan.value.supplies.card_bytes / 1e9);
const picker = ref<HTMLInputElement>();
const megapixels = ref<number | "">("");
const files = ref<"raw" | "jpeg" | "both">("raw");

function supplies(part: Partial<PlannedShot["supplies"]>): void {
  emit("keep", (now) => ({ supplies: { ...now.supplies, ...part } }));
}

/** Ask how much a still of so many megapixels takes, in the kinds of files that are written. */
function sizeOf(): Promise<void> {
  return attempt(async () => {
    if (!megapixels.value) return;
    const { bytes } = await api.stillSize(megapixels.value, files.value !== "jpeg", files.value !== "raw");
    supplies({ still_bytes: bytes });
  });
}

/** A sample still is not sent anywhere: how much it takes is all that is asked. */
function sample(file: File | undefined): void {
  if (file?.size) supplies({ still_bytes: file.size });
}
</script>

<template>
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
          @change="supplies({ still_bytes: Math.max(1, Math.round(numberIn($event) * 1e6)) })"
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
          @change="supplies({ card_bytes: Math.round(numberIn($event) * 1e9) })"
      /></label>
      <label
        ><span>stills a charge</span
        ><input
          class="number"
          type="number"
          min="0"
          v-shown="plan.supplies.per_charge || ''"
          placeholder="600"
          @change="supplies({ per_charge: numberIn($event) })"
      /></label>
      <label
        ><span>charges</span
        ><input
          class="number"
          type="number"
          min="1"
          v-shown="plan.supplies.charges"
          @change="supplies({ charges: Math.max(1, numberIn($event)) })"
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
          @change="supplies({ next_number: textIn($event) === '' ? null : numberIn($event) })"
      /></label>
    </div>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </section>
</template>

<style scoped src="./conditions.css"></style>
<style scoped>
.size-of {
  display: grid;
  gap: 0.4rem;
  grid-template-columns: 7.2rem 1fr;
}

.from {
  align-items: center;
}
</style>
