<script setup lang="ts">
import Button from "primevue/button";
import { computed, defineAsyncComponent, ref } from "vue";

import { Problem, type EncodeWish } from "../../api/client";
import AskFirst from "../../parts/AskFirst.vue";
import { useSentences } from "../../parts/sentences";
import { isUnderWay, useJobs } from "../../queue/jobs";
import JobLine from "../../queue/JobLine.vue";
import OfferTable from "./OfferTable.vue";
import PurposeList from "./PurposeList.vue";
import WhereTo from "./WhereTo.vue";
import { useEncoding, type Trial } from "./encoding";

// Fetched by those who open the settings.
const FormatSettings = defineAsyncComponent(() => import("./FormatSettings.vue"));

/** What is encoded, in a word; `stretch` is what a trial would take, from its first frame to the one after its last. */
const props = defineProps<{ what: "clip" | "reel"; stretch?: Trial }>();

const { owner, offers, also, into, pattern, encode, isReady, begin, choices } = useEncoding();
const jobs = useJobs();
const { refused } = useSentences();
const asking = ref("");
const open = ref(false);
const own = computed(() =>
  jobs.all.filter((one) =>
    props.what === "clip"
      ? one.shot_id === owner.value.id && one.kind === "encode"
      : one.reel_id === owner.value.id && one.kind === "reel",
  ),
);
const job = computed(() => own.value[0]);
const running = computed(() => own.value.filter((one) => isUnderWay(one) || one.state === "paused"));
const count = computed(() => 1 + also.value.size);
const label = computed(() =>
  count.value > 1
    ? `Encode these ${["", "", "two", "three", "four", "five"][count.value] ?? count.value}`
    : `Encode the ${props.what}`,
);

async function start(wish: EncodeWish, replace = false): Promise<void> {
  const rest = { pattern: pattern.value, into: into.value ? { ...into.value, replace } : undefined };
  await begin({ ...rest, ...wish });
}

async function encodeAll(replace = false): Promise<void> {
  if (!isReady.value) return;
  const formats = [encode.value.format, ...also.value];
  // Of several formats in one kind of file each name says which it is.
  const own = count.value > 1 ? { pattern: `${pattern.value || choices.value?.pattern}_{format}` } : {};
  try {
    for (const format of formats) await start({ format, ...own }, replace);
    also.value.clear();
  } catch (error) {
    if (error instanceof Problem && error.code === "file_exists" && !replace) asking.value = error.message;
    else refused(error);
  }
}

async function tryStretch(): Promise<void> {
  try {
    await start({ stretch: [props.stretch!.first, props.stretch!.end], into: undefined });
  } catch (error) {
    refused(error);
  }
}

defineExpose({ encodeAll });
</script>

<template>
  <section><PurposeList /></section>
  <section>
    <p class="settings-line">
      <button type="button" class="plain-button" :aria-expanded="open" @click="open = !open">
        <span aria-hidden="true">{{ open ? "▾" : "▸" }}</span> settings of the format
      </button>
    </p>
    <FormatSettings v-if="open" />
  </section>
  <section aria-label="What it takes">
    <h3>What it takes</h3>
    <OfferTable />
    <p v-for="warning in offers?.warnings" :key="warning" class="warning">{{ warning }}</p>
  </section>
  <section aria-label="Where to">
    <h3>Where to</h3>
    <WhereTo />
  </section>
  <section class="at-hand">
    <p class="begin">
      <Button :label="label" class="main-action" :disabled="!isReady" @click="encodeAll()" />
      <button v-if="stretch" type="button" class="plain-button" :disabled="!isReady" @click="tryStretch">
        try {{ stretch.words }} first
      </button>
    </p>
    <slot name="hint"></slot>
    <div v-for="one in running" :key="one.id" class="running">
      <JobLine :job="one" />
      <Button v-if="one.state !== 'paused'" label="Pause" severity="secondary" size="small" @click="jobs.pause(one)" />
      <Button v-else label="Go on" severity="secondary" size="small" @click="jobs.goOn(one)" />
      <Button label="Cancel" severity="secondary" size="small" @click="jobs.cancel(one)" />
    </div>
    <p v-if="running.length" class="quiet"><RouterLink :to="{ name: 'queue' }">the whole queue</RouterLink></p>
    <p v-if="job?.state === 'failed'" class="warning" role="alert">{{ job.message }}</p>
    <p v-else-if="job?.state === 'finished' && job.message" class="warning" role="alert">{{ job.message }}</p>
    <p v-if="job?.state === 'cancelled'" class="quiet">
      Cancelled. What was rendered is kept: encode again and it goes on from there.
    </p>
  </section>
  <AskFirst
    :model-value="!!asking"
    question="Replace the file?"
    yes="Replace it"
    @update:model-value="asking = ''"
    @yes="encodeAll(true)"
  >
    <p>{{ asking }}</p>
  </AskFirst>
</template>

<style scoped>
.settings-line,
.begin {
  align-items: center;
  display: flex;
  gap: 1rem;
  margin: 0;
}

.settings-line button {
  color: var(--line);
  padding: 0;
}

.begin .plain-button {
  color: var(--line);
}

/* However long the sheet, what it is for can be done at once. */
.at-hand {
  background: var(--paper);
  border-top: 1px solid var(--hair);
  bottom: 0;
  margin: 0 -1.1rem;
  padding: 0.7rem 1.1rem;
  position: sticky;
  z-index: 2;
}

.at-hand p {
  margin: 0;
}

.running {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 1fr auto auto;
}
</style>
