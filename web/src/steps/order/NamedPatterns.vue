<script setup lang="ts">
import InputText from "primevue/inputtext";
import { ref } from "vue";

import { api, type NamedPattern, type PatternPart } from "../../api/client";
import { useRead } from "../../api/queries";
import { useAttempt } from "../../parts/sentences";

const parts = defineModel<PatternPart[]>({ required: true });
const { answer: kept, refusal: unread, again } = useRead(() => ({ key: ["patterns"], query: api.patterns }));
const name = ref("");
const naming = ref(false);
const { refusal, attempt } = useAttempt();

function keep(): Promise<void> {
  return attempt(async () => {
    if (!name.value.trim()) return;
    await api.keepPattern(name.value, parts.value);
    naming.value = false;
    name.value = "";
    await again();
  });
}

const forget = (one: NamedPattern) =>
  attempt(async () => {
    await api.forgetPattern(one.name);
    await again();
  });
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
    <span v-if="refusal || unread" class="warning" role="alert">{{ refusal || unread }}</span>
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
