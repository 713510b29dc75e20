<script setup lang="ts">
import { computed, ref } from "vue";

import type { Planned, PlannedShot } from "../../api/client";

/** What to bring and to set: own lines, and those a plan like this usually needs. */
const props = defineProps<{ planned: Planned }>();
const emit = defineEmits<{ keep: [part: (planned: PlannedShot) => Partial<PlannedShot>] }>();

const own = ref("");
const kit = computed(() => props.planned.planned.kit ?? []);
const usual = computed(() => props.planned.usual_kit.filter((what) => !kit.value.some((one) => one.what === what)));

function add(...whats: string[]): void {
  emit("keep", ({ kit: now = [] }) => ({
    kit: [
      ...now,
      ...whats.filter((what) => !now.some((one) => one.what === what)).map((what) => ({ what, ready: false })),
    ],
  }));
}

function addOwn(): void {
  const what = own.value.trim();
  own.value = "";
  if (what) add(what);
}

const tick = (what: string, ready: boolean) =>
  emit("keep", ({ kit: now = [] }) => ({ kit: now.map((one) => (one.what === what ? { what, ready } : one)) }));
const takeOff = (what: string) =>
  emit("keep", ({ kit: now = [] }) => ({ kit: now.filter((one) => one.what !== what) }));
</script>

<template>
  <section aria-labelledby="kit">
    <h2 id="kit">Kit and settings</h2>
    <ul v-if="kit.length" aria-label="On the list">
      <li v-for="one in kit" :key="one.what">
        <label>
          <input
            type="checkbox"
            :checked="one.ready"
            @change="tick(one.what, ($event.target as HTMLInputElement).checked)"
          />
          <span :class="{ ready: one.ready }">{{ one.what }}</span>
        </label>
        <button
          type="button"
          class="plain-button quiet"
          :aria-label="`Take ${one.what} off`"
          @click="takeOff(one.what)"
        >
          ×
        </button>
      </li>
    </ul>
    <p v-if="usual.length" class="usual">
      <span class="quiet">usual here:</span>
      <button v-for="what in usual" :key="what" type="button" class="plain-button" @click="add(what)">
        + {{ what }}
      </button>
      <button v-if="usual.length > 1" type="button" class="plain-button all" @click="add(...usual)">
        all of these
      </button>
    </p>
    <input
      v-model="own"
      maxlength="120"
      placeholder="something of your own, then Enter"
      aria-label="Something of your own"
      @keydown.enter.prevent="addOwn"
      @change="addOwn"
    />
  </section>
</template>

<style scoped src="./conditions.css"></style>
<style scoped>
section {
  display: grid;
  gap: 0.5rem;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  align-items: center;
  display: flex;
  justify-content: space-between;
}

li label {
  align-items: baseline;
  cursor: pointer;
  display: flex;
  gap: 0.5rem;
}

.ready {
  color: var(--soft-ink);
  text-decoration: line-through;
}

.usual {
  color: var(--line);
  display: flex;
  flex-wrap: wrap;
  gap: 0.1rem 0.4rem;
}

.all {
  text-decoration: underline;
}
</style>
