<script setup lang="ts">
import { ref } from "vue";

import { api, type Suited } from "../../api/client";
import { useAttempt } from "../../parts/sentences";
import { secondsText } from "./seconds";

/** The interval from how fast a thing crosses the view: timed by eye, or measured on two test stills. */
const props = defineProps<{ rate: string }>();
const emit = defineEmits<{ interval: [text: string] }>();

const crossing = ref("");
const onScreen = ref(4);
const apart = ref("");
const answer = ref<Suited>();
const picker = ref<HTMLInputElement>();
const over = ref(false);
const { refusal, attempt } = useAttempt();

function work(): Promise<void> {
  answer.value = undefined;
  if (!crossing.value.trim()) return Promise.resolve();
  return attempt(async () => {
    const { seconds } = await api.duration(crossing.value);
    answer.value = await api.suiting(seconds, props.rate, onScreen.value);
  });
}

function measure(files: FileList | null | undefined): Promise<void> {
  over.value = false;
  const [first, second] = [...(files ?? [])].sort((one, other) =>
    one.name.localeCompare(other.name, "en", { numeric: true }),
  );
  answer.value = undefined;
  return attempt(async () => {
    if (!first || !second) throw new Error("Drop two stills at once, taken one after the other.");
    const seconds = apart.value.trim() ? (await api.duration(apart.value)).seconds : undefined;
    answer.value = await api.crossing(first, second, props.rate, onScreen.value, seconds);
  });
}
</script>

<template>
  <div
    class="crossing"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="measure($event.dataTransfer?.files)"
  >
    <p>
      or: it crosses the view in
      <input
        v-model="crossing"
        class="number"
        aria-label="how long it takes to cross the view"
        placeholder="40 s"
        @change="work"
      />
      and shall take
      <input
        v-model.number="onScreen"
        class="number short"
        type="number"
        min="0.5"
        max="600"
        step="0.5"
        aria-label="seconds it takes in the clip"
        @change="work"
      />
      s in the clip
    </p>
    <p class="acts">
      <button type="button" class="plain-button" @click="picker?.click()">measure on two test stills …</button>
      <label class="quiet apart"
        >taken
        <input
          v-model="apart"
          class="number short"
          placeholder="as said"
          aria-label="seconds between the test stills"
        />
        apart</label
      >
      <input
        ref="picker"
        type="file"
        accept="image/*"
        multiple
        hidden
        aria-label="Two test stills"
        @change="measure(($event.target as HTMLInputElement).files)"
      />
    </p>
    <p v-if="answer">
      {{ answer.sentence }}
      <button type="button" class="plain-button act" @click="emit('interval', `${answer.interval_s}`)">
        take {{ secondsText(answer.interval_s) }}
      </button>
    </p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal.replace(/^Error: /, "") }}</p>
  </div>
</template>

<style scoped>
.crossing {
  border: 1px dashed var(--hair);
  border-radius: var(--round-wide);
  display: grid;
  gap: 0.3rem;
  padding: 0.5rem 0.7rem;
}

.crossing.over {
  border-color: var(--line);
  background: var(--line-pale);
}

.crossing .acts {
  align-items: center;
}

input.number {
  width: 5.2rem;
}

input.short {
  width: 4.4rem;
}

.apart input {
  width: 6.4rem;
}
</style>
