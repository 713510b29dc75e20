<script setup lang="ts">
import InputNumber from "primevue/inputnumber";
import { computed, ref, watch } from "vue";

import { api } from "../../api/client";
import { useAttempt } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import { useProject } from "../../stores/project";
import { useShot } from "../../stores/shot";

const shot = useShot();
const project = useProject();
const { refusal, attempt } = useAttempt();
const said = ref("");
const asking = ref(false);
const position = ref<number | null>(1);
const ids = computed(() => shot.chosen.map((still) => still.id));
const first = computed(() => shot.chosen[0]?.position ?? 0);
const allAside = computed(() => shot.chosen.every((still) => shot.aside.has(still.id)));
const words = computed(() =>
  shot.stretch && shot.chosen.length > 1
    ? `Stills ${(shot.stretch.first + 1).toLocaleString("en")} to ${(shot.stretch.last + 1).toLocaleString("en")}`
    : `Still ${(shot.current + 1).toLocaleString("en")}`,
);

watch(
  () => [shot.current, shot.stretch],
  () => {
    asking.value = false;
    said.value = "";
  },
);

function askWhere(): void {
  position.value = first.value + 1;
  asking.value = true;
}

async function move(): Promise<void> {
  const to = Math.max(0, (position.value ?? 1) - 1);
  const moved = ids.value;
  asking.value = false;
  await shot.change((id, seen) => api.moveStills(id, seen, moved, to));
  const begins = Math.min(to, shot.count - moved.length);
  shot.stretch = moved.length > 1 ? { first: begins, last: begins + moved.length - 1 } : undefined;
  shot.goTo(begins);
}

function split(): Promise<void> {
  return attempt(async () => {
    await api.split(shot.shot!.id, [ids.value[0]!]);
    said.value = "The stills from there on are a shot of their own in this project.";
    await refresh();
  });
}

function takeOut(): Promise<void> {
  return attempt(async () => {
    const count = ids.value.length;
    await api.takeOut(shot.shot!.id, ids.value);
    await refresh();
    said.value = `${countText(count, "still")} taken out; the files stay. Gather brings them back.`;
  });
}

async function refresh(): Promise<void> {
  shot.stretch = undefined;
  await Promise.all([shot.open(shot.shot!.id), project.load(shot.shot!.project_id)]);
}
</script>

<template>
  <div v-if="shot.count" class="bar" role="toolbar" aria-label="What to do with the chosen stills">
    <strong class="number">{{ words }}</strong>
    <template v-if="asking">
      <label
        >to position
        <InputNumber
          v-model="position"
          :min="1"
          :max="shot.count"
          :use-grouping="false"
          input-class="number short"
          aria-label="New position"
          autofocus
          @input="position = $event.value as number"
          @keydown.enter="move"
      /></label>
      <button type="button" class="plain-button" @click="move">move</button>
      <button type="button" class="plain-button" @click="asking = false">leave</button>
    </template>
    <template v-else>
      <button type="button" class="plain-button" title="X" @click="shot.toggleAside()">
        {{ allAside ? "bring back" : "set aside" }}
      </button>
      <button type="button" class="plain-button" @click="askWhere">move …</button>
      <button
        v-if="shot.chosen.length > 1"
        type="button"
        class="plain-button"
        @click="shot.change((id, seen) => api.reverseStills(id, seen, ids))"
      >
        reverse
      </button>
      <button
        v-else
        type="button"
        class="plain-button"
        @click="shot.change((id, seen) => api.reverseStills(id, seen, []))"
      >
        reverse all
      </button>
      <button type="button" class="plain-button" :disabled="first === 0" @click="split">split before</button>
      <button type="button" class="plain-button" @click="takeOut">take out</button>
    </template>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <p v-else-if="said" role="status">{{ said }}</p>
  </div>
</template>

<style scoped>
.bar {
  align-items: center;
  border-bottom: 1px solid var(--hair);
  border-top: 1px solid var(--hair);
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.35rem;
  margin-bottom: 0.4rem;
  min-height: 2.3rem;
  padding: 0.25rem 1.1rem;
}

strong {
  font-weight: 400;
  margin-right: 0.5rem;
}

button {
  color: var(--line);
}

button:disabled {
  color: var(--soft-ink);
  cursor: default;
  opacity: 0.55;
}

label :deep(.short) {
  padding: 0.1rem 0.4rem;
  width: 4.5rem;
}

p {
  flex-basis: 100%;
}
</style>
