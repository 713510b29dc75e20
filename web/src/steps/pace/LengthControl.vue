<script setup lang="ts">
import { useThrottleFn } from "@vueuse/core";
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { ref, shallowRef, watch } from "vue";

import { api, type Way } from "../../api/client";
import { newest } from "../../api/newest";
import { useReadOnWish } from "../../api/queries";
import { useAttempt } from "../../parts/sentences";
import { useShot } from "../../stores/shot";
import LengthEnd from "./LengthEnd.vue";

const shot = useShot();
const { refusal, attempt } = useAttempt();
const text = ref("");
const ways = shallowRef<Way[]>([]);
const asked = ref(false);

const ask = newest(
  () => api.ways(shot.shot!.id, text.value, shot.revision, shot.tried),
  (found) => {
    ways.value = found;
    asked.value = true;
  },
);
const find = () => attempt(ask);

/** What comes of a length while the clip's end is dragged to it: always of what is decided, not of what was tried. */
const askPulled = newest(
  () => api.ways(shot.shot!.id, text.value, shot.revision, {}),
  (found) => {
    ways.value = found;
    asked.value = true;
    if (pulled.value && found[0]) shot.tryOut({ pace: found[0].pace });
  },
);
const pulled = ref(false);
const tryPulled = useThrottleFn(() => pulled.value && attempt(askPulled), 90, true);

function pull(seconds: number): void {
  pulled.value = true;
  text.value = `${seconds} s`;
  void tryPulled();
}

/** The most faithful way to where the end was let go of is decided; the others stay to be chosen. */
function keep(): Promise<void> {
  letGo();
  const id = shot.shot!.id;
  return attempt(async () => {
    // Meanwhile what was seen last stays, also where the last answer before this one is still on its way.
    const found = await api.ways(id, text.value, shot.revision, {}).catch((error) => {
      shot.drop();
      throw error;
    });
    if (shot.shot?.id !== id) return;
    ways.value = found;
    asked.value = true;
    if (!found[0]) return shot.drop();
    shot.tryOut({ pace: found[0].pace });
    await shot.settle();
  });
}

function drop(): void {
  letGo();
  shot.drop();
}

function letGo(): void {
  pulled.value = false;
  askPulled.overtake();
}
const {
  answer: lengths,
  refusal: unread,
  ask: list,
} = useReadOnWish(() => ({ key: ["shot", shot.shot!.id, "lengths"], query: () => api.lengths(shot.shot!.id) }));

function choose(select: HTMLSelectElement): void {
  text.value = `${Number(select.value)} s`;
  select.value = "";
  void find();
}

watch(
  () => shot.shot?.id,
  () => {
    ask.overtake();
    letGo();
    ways.value = [];
    asked.value = false;
  },
);
</script>

<template>
  <div class="length">
    <LengthEnd :seconds="shot.brief!.seconds" @pull="pull" @keep="keep" @drop="drop" />
    <form @submit.prevent="find">
      <InputText v-model="text" class="number" placeholder="12 s" aria-label="Wanted length" maxlength="40" fluid />
      <Button type="submit" label="Find ways" severity="secondary" :disabled="!text.trim()" />
    </form>
    <select
      aria-label="As long as something else"
      @focus="list"
      @pointerenter="list"
      @change="choose($event.target as HTMLSelectElement)"
    >
      <option value="">as long as …</option>
      <option v-for="one in lengths" :key="one.of" :value="Math.round(one.seconds * 1e4) / 1e4">
        {{ one.of }}, {{ one.seconds.toFixed(1) }} s
      </option>
      <option v-if="lengths && !lengths.length" disabled>nothing else in this project has a length</option>
    </select>
    <p v-if="unread" class="warning" role="alert">{{ unread }}</p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <p v-else-if="asked && !ways.length" class="quiet">There is no honest way to that length with these stills.</p>
    <ul v-if="ways.length" aria-label="Ways to this length">
      <li v-for="way in ways" :key="way.sentence">
        <p>
          <strong>{{ way.name }}</strong> <span class="number">{{ way.length }}</span>
        </p>
        <p>{{ way.sentence }}</p>
        <p v-if="way.clock" class="quiet">{{ way.clock }}</p>
        <Button
          label="Use this"
          severity="secondary"
          size="small"
          :aria-label="`Use this: ${way.sentence}`"
          @click="shot.decide({ pace: way.pace })"
        />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.length {
  display: grid;
  gap: 0.5rem;
}

select {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  border-radius: var(--round);
  color: inherit;
  font: inherit;
  padding: 0.35rem 0.5rem;
}

form {
  display: grid;
  gap: 0.5rem;
  grid-template-columns: minmax(0, 1fr) auto;
}

ul {
  display: grid;
  gap: 0.7rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  border-left: 3px solid var(--hair);
  display: grid;
  gap: 0.15rem;
  justify-items: start;
  padding-left: 0.7rem;
}
</style>
