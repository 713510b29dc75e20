<script setup lang="ts">
import { computed, ref } from "vue";

import { api, type Queued } from "../api/client";
import { onTold } from "../api/events";
import { useRead } from "../api/queries";
import { useSentences } from "../parts/sentences";
import { useSorting } from "../parts/sorting";
import { bytesText, waitText } from "../parts/wording";
import { useJobs } from "../queue/jobs";
import JobLine from "../queue/JobLine.vue";
import { askToTell, tells } from "../queue/telling";

const jobs = useJobs();
const { refused } = useSentences();
const { answer, refusal, again: load, show } = useRead(() => ({ key: ["queue"], query: api.queue }));
const queue = computed<Queued[]>(() => answer.value ?? []);
const list = ref<HTMLElement>();
const left = computed(() => queue.value.filter((one) => ["waiting", "running", "paused"].includes(now(one).state)));
const ended = computed(() => queue.value.filter((one) => !left.value.includes(one)));
const all = computed(() => left.value.reduce((most, one) => Math.max(most, one.done_in ?? 0), 0));

/** The job as it is told of last. */
const now = (one: Queued) => jobs.all.find((job) => job.id === one.job.id) ?? one.job;
const what = (one: Queued) =>
  `${one.title} of ${one.job.shot_name}` +
  (one.stretch
    ? `, frames ${(one.stretch[0] + 1).toLocaleString("en")} to ${one.stretch[1].toLocaleString("en")}`
    : "") +
  (one.bytes ? `, about ${bytesText(one.bytes)}` : "") +
  (one.folder ? `, into ${one.folder}` : "");
const placeOf = (one: Queued) =>
  one.job.reel_id
    ? { name: "reel", params: { reel: one.job.reel_id, tab: "finish" } }
    : { name: "shot", params: { shot: one.job.shot_id, step: "encode" } };

async function act(work: () => Promise<unknown>): Promise<void> {
  try {
    await work();
  } catch (error) {
    refused(error);
  }
  await load();
}

/** Give an encode its turn before another one's, or the last; what runs goes on. */
function put(job: number, before: number | null): Promise<void> {
  return act(async () => show(await api.putJobBefore(job, before)));
}

const sorting = useSorting(
  list,
  () => left.value.map((one) => one.job.id),
  (job, to) => put(job, left.value.filter((one) => one.job.id !== job)[to]?.job.id ?? null),
);

onTold("queue", () => void load());
onTold("job", (job) => {
  if (
    (job.kind === "encode" || job.kind === "reel") &&
    (job.state !== "running" || !queue.value.some((one) => one.job.id === job.id))
  )
    void load();
});
</script>

<template>
  <main class="queue">
    <h1>The queue</h1>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <p class="quiet intro">
      <template v-if="left.length"
        >Encodes are made one after another, from the top.
        <span v-if="all">All are done in about {{ waitText(all) }}.</span></template
      >
      <template v-else>Nothing waits. What is encoded in a shot or a reel comes here.</template>
      <button v-if="!tells" type="button" class="plain-button" @click="askToTell">tell me when one is done</button>
      <span v-else> You are told when one is done.</span>
    </p>
    <ol v-if="left.length" class="lines" ref="list" aria-label="What is left">
      <li
        v-for="one in left"
        :key="one.job.id"
        :class="sorting.stateOf(one.job.id)"
        tabindex="0"
        :aria-label="what(one)"
        @keydown="sorting.keys($event, one.job.id)"
      >
        <span
          class="grip"
          aria-hidden="true"
          title="drag to another place, or Shift ↑ ↓"
          @pointerdown="sorting.begin($event, one.job.id)"
          >⠿</span
        >
        <div>
          <p class="what">
            <RouterLink :to="placeOf(one)">{{ what(one) }}</RouterLink>
          </p>
          <JobLine :job="now(one)" />
          <p class="quiet">
            <span v-if="one.seconds !== null && now(one).state !== 'running'"
              >takes about {{ waitText(one.seconds) }}</span
            >
            <span v-if="one.done_in !== null && now(one).state === 'waiting'"
              >, done in about {{ waitText(one.done_in) }}</span
            >
          </p>
        </div>
        <span class="acts">
          <button
            v-if="now(one).state !== 'paused'"
            type="button"
            class="plain-button"
            :aria-label="`Pause ${what(one)}`"
            @click="act(() => jobs.pause(one.job))"
          >
            pause
          </button>
          <button
            v-else
            type="button"
            class="plain-button"
            :aria-label="`Go on with ${what(one)}`"
            @click="act(() => jobs.goOn(one.job))"
          >
            go on
          </button>
          <button
            type="button"
            class="plain-button"
            :aria-label="`Cancel ${what(one)}`"
            @click="act(() => jobs.cancel(one.job))"
          >
            cancel
          </button>
        </span>
      </li>
    </ol>
    <template v-if="ended.length">
      <h2>Done</h2>
      <ul class="lines" aria-label="What is done">
        <li v-for="one in ended" :key="one.job.id">
          <span></span>
          <div>
            <p class="what">
              <RouterLink :to="placeOf(one)">{{ what(one) }}</RouterLink>
            </p>
            <JobLine :job="now(one)" />
          </div>
          <span class="acts">
            <button
              v-if="now(one).state !== 'finished'"
              type="button"
              class="plain-button"
              :aria-label="`Go on with ${what(one)}`"
              @click="act(() => jobs.goOn(one.job))"
            >
              go on from there
            </button>
          </span>
        </li>
      </ul>
    </template>
  </main>
</template>

<style scoped>
.queue {
  margin: 0 auto;
  max-width: 56rem;
  padding: 1.6rem 1.2rem 3rem;
  width: 100%;
}

.intro {
  margin: 0.2rem 0 1rem;
}

.intro button {
  color: var(--line);
}

.lines {
  list-style: none;
  margin: 0 0 1.6rem;
  padding: 0;
}

.lines li {
  align-items: start;
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 0.8rem;
  grid-template-columns: 1.2rem 1fr auto;
  padding: 0.7rem 0.2rem;
}

.lines li.above {
  border-top-color: var(--line);
  box-shadow: 0 -1px 0 var(--line);
}

.lines li.below {
  box-shadow: 0 1px 0 var(--line);
}

.lines li.held {
  opacity: 0.45;
}

.lines p {
  margin: 0;
}

.what {
  font-family: var(--heading);
  font-size: var(--type-body);
}

.what a {
  color: inherit;
  text-decoration: none;
}

.what a:hover {
  text-decoration: underline;
}

.grip {
  color: var(--soft-ink);
  cursor: grab;
  touch-action: none;
}

.acts {
  display: flex;
  gap: 0.8rem;
}

.acts button {
  color: var(--line);
}
</style>
