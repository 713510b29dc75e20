<script setup lang="ts">
import InputNumber from "primevue/inputnumber";
import InputText from "primevue/inputtext";
import { computed } from "vue";

import type { PatternPart } from "../api/client";
import { partNames, part } from "./pattern";

/** `without` are parts that mean nothing for what is named here. */
const { without = [], names = "The new name" } = defineProps<{ without?: PatternPart["kind"][]; names?: string }>();
const parts = defineModel<PatternPart[]>({ required: true });
const kinds = computed(
  () =>
    Object.entries(partNames).filter(([kind]) => !without.includes(kind as PatternPart["kind"])) as [
      PatternPart["kind"],
      string,
    ][],
);

function change(index: number, values: Partial<PatternPart>): void {
  parts.value = parts.value.map((one, at) => (at === index ? { ...one, ...values } : one));
}

function remove(index: number): void {
  parts.value = parts.value.filter((_, at) => at !== index);
}

function move(index: number, by: number): void {
  const next = [...parts.value];
  next.splice(index + by, 0, ...next.splice(index, 1));
  parts.value = next;
}
</script>

<template>
  <div class="pattern">
    <ol :aria-label="names">
      <li v-for="(one, index) in parts" :key="index">
        <button
          v-if="index"
          type="button"
          class="plain-button"
          :aria-label="`Move ${partNames[one.kind]} to the front`"
          @click="move(index, -1)"
        >
          ‹
        </button>
        <InputText
          v-if="one.kind === 'text'"
          :model-value="one.text"
          aria-label="Text"
          class="number text"
          :style="{ width: `${Math.max(2, one.text.length + 1.5)}ch` }"
          @update:model-value="change(index, { text: $event ?? '' })"
        />
        <span v-else class="name">{{ partNames[one.kind] }}</span>
        <template v-if="one.kind === 'counter'">
          <label
            >from
            <InputNumber
              :model-value="one.start"
              :min="0"
              :max="999999999"
              :use-grouping="false"
              input-class="number small"
              aria-label="Start of the counter"
              @update:model-value="change(index, { start: $event ?? 1 })"
          /></label>
          <label
            >digits
            <InputNumber
              :model-value="one.digits || null"
              :min="0"
              :max="12"
              placeholder="auto"
              input-class="number tiny"
              aria-label="Digits of the counter, empty for as many as are needed"
              @update:model-value="change(index, { digits: $event ?? 0 })"
          /></label>
          <label
            >step
            <InputNumber
              :model-value="one.step"
              :min="1"
              :max="1000"
              :use-grouping="false"
              input-class="number tiny"
              aria-label="Step of the counter"
              @update:model-value="change(index, { step: $event || 1 })"
          /></label>
        </template>
        <button
          type="button"
          class="plain-button"
          :aria-label="`Take ${partNames[one.kind]} out`"
          @click="remove(index)"
        >
          ×
        </button>
      </li>
    </ol>
    <p class="add">
      Add
      <button
        v-for="[kind, name] in kinds"
        :key="kind"
        type="button"
        class="plain-button"
        @click="parts = [...parts, part(kind)]"
      >
        {{ name }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.pattern {
  display: grid;
  gap: 0.5rem;
}

ol {
  display: flex;
  flex-wrap: wrap;
  gap: 0.35rem;
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  align-items: center;
  background: var(--line-pale);
  border-radius: var(--round);
  display: flex;
  gap: 0.25rem;
  min-height: 2.1rem;
  padding: 0 0.2rem 0 0.5rem;
}

label {
  color: var(--soft-ink);
  font-size: var(--type-small);
  margin-left: 0.35rem;
}

.text {
  min-width: 2.4rem;
  padding: 0.1rem 0.3rem;
}

li :deep(.small),
li :deep(.tiny) {
  padding: 0.1rem 0.3rem;
  width: 4.2rem;
}

li :deep(.tiny) {
  width: 2.6rem;
}

.add {
  color: var(--soft-ink);
}

.add button {
  color: var(--line);
}
</style>
