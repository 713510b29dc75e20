<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../../stores/shot";

const names = {
  counter: "counter",
  time: "capture time",
  "file time": "file time",
  text: "name as text",
  hand: "by hand",
  recommended: "",
};

const shot = useShot();
const order = computed(() => shot.order!);
/** What was decided, which the order of the stills follows a moment later. */
const chosen = computed(() => {
  const { by } = shot.decisions!.order;
  return by === "recommended" ? order.value.recommended : by;
});
</script>

<template>
  <fieldset>
    <legend>Order by</legend>
    <label v-for="candidate in order.candidates" :key="candidate.by" :class="{ chosen: chosen === candidate.by }">
      <input
        type="radio"
        name="order"
        :value="candidate.by"
        :checked="chosen === candidate.by"
        @change="shot.decide({ order: { by: candidate.by } })"
      />
      <span>
        <strong>{{ names[candidate.by] }}</strong>
        <em v-if="candidate.by === order.recommended"> recommended</em>
        <small>{{ candidate.sentence }}</small>
      </span>
    </label>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  display: grid;
  gap: 0.2rem 0.6rem;
  grid-template-columns: 1fr 1fr;
  margin: 0;
  padding: 0;
}

legend {
  color: var(--soft-ink);
  padding: 0 0 0.2rem;
}

label {
  border: 1px solid var(--hair);
  border-radius: var(--round);
  cursor: pointer;
  display: flex;
  gap: 0.5rem;
  padding: 0.35rem 0.5rem;
}

label.chosen {
  background: var(--line-pale);
  border-color: var(--line);
}

input {
  accent-color: var(--line);
}

em {
  color: var(--moss-ink);
  font-size: var(--type-small);
}

small {
  color: var(--soft-ink);
  display: block;
  font-size: var(--type-small);
  line-height: 1.3;
}
</style>
