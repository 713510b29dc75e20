<script setup lang="ts">
import type { Purpose } from "../../api/client";
import { useEncoding } from "./encoding";

const { choices, offers, encode, decide } = useEncoding();

/** What is said in the file stays; all else begins as the purpose has it. */
function choose(purpose: Purpose): void {
  const { title, comment, start, profile, ppi } = encode.value;
  void decide({ ...purpose.encode, title, comment, start, profile, ppi });
}
</script>

<template>
  <h2 id="purposes">What is it for?</h2>
  <fieldset class="purposes" aria-labelledby="purposes">
    <label
      v-for="one in choices?.purposes"
      :key="one.name"
      class="purpose"
      :class="{ now: offers?.purpose === one.name }"
    >
      <input type="radio" name="purpose" :checked="offers?.purpose === one.name" @change="choose(one)" />
      <span>
        <strong>{{ one.name }}</strong>
        <span class="quiet">{{ one.gives }}</span>
      </span>
    </label>
  </fieldset>
</template>

<style scoped>
.purposes {
  border: 0;
  display: grid;
  gap: 0 1.2rem;
  grid-template-columns: 1fr 1fr;
  margin: 0;
  padding: 0;
}

.purpose {
  align-items: start;
  border-top: 1px solid var(--hair);
  cursor: pointer;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: auto 1fr;
  padding: 0.4rem 0.2rem;
}

.purpose input {
  margin-top: 0.25rem;
}

.purpose span span {
  display: block;
  line-height: 1.25;
}

.purpose.now {
  background: var(--shade);
}
</style>
