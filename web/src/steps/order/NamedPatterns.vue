<script setup lang="ts">
import InputText from "primevue/inputtext";
import { ref, shallowRef } from "vue";

import { api, type NamedPattern, type PatternPart } from "../../api/client";
import { useAttempt } from "../../parts/sentences";

const parts = defineModel<PatternPart[]>({ required: true });
const kept = shallowRef<NamedPattern[]>([]);
const name = ref("");
const naming = ref(false);
const { refusal, attempt } = useAttempt();

const load = () => attempt(async () => void (kept.value = await api.patterns()));

function keep(): Promise<void> {
  return attempt(async () => {
    if (!name.value.trim()) return;
    await api.keepPattern(name.value, parts.value);
    naming.value = false;
    name.value = "";
    await load();
  });
}

const forget = (one: NamedPattern) =>
  attempt(async () => {
    await api.forgetPattern(one.name);
    await load();
  });

void load();
</script>

<template>
  <p class="patterns">
    <template v-for="one in kept" :key="one.name">
      <button type="button" class="plain-button" @click="parts = one.parts.map((part) => ({ ...part }))">
        {{ one.name }}</button><button
        type="button"
        class="plain-button forget"
        :aria-label="`Forget the pattern ${one.name}`"
        @click="forget(one)"
      >
        ×
      </button>
    </template>
    <template v-if="naming">
      <InputText
        v-model="name"
        placeholder="name of this pattern"
        aria-label="Name of this pattern"
        maxlength="120"
        autofocus
        @keydown.enter="keep"
      />
      <button type="button" class="plain-button" @click="keep">keep</button>
    </template>
    <button v-else type="button" class="plain-button" @click="naming = true">keep this pattern …</button>
    <span v-if="refusal" class="warning" role="alert">{{ refusal }}</span>
  </p>
</template>

<style scoped>
.patterns {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.3rem;
  margin-left: -0.3rem;
}

button {
  color: var(--line);
}

.forget {
  color: var(--soft-ink);
  margin-right: 0.6rem;
}

input {
  padding: 0.1rem 0.4rem;
}
</style>
