<script setup lang="ts">
import type { CameraFound } from "../../api/client";
import type { Wish } from "./wish";

/** What is wished of a shoot: with which camera, how often, from when and until when. */
defineProps<{ cameras: CameraFound[] }>();
const wish = defineModel<Wish>({ required: true });
</script>

<template>
  <label class="line"><span>Shot</span><input v-model="wish.name" maxlength="120" /></label>
  <label class="line"
    ><span>Camera</span>
    <select v-model="wish.camera">
      <option v-for="one in cameras" :key="one.key" :value="one.key">{{ one.name }}</option>
    </select></label
  >
  <label class="line"><span>A still every</span><input v-model.lazy="wish.interval" class="number" /></label>
  <fieldset>
    <legend>It ends</legend>
    <label
      ><input v-model="wish.ending" type="radio" value="count" /> after
      <input
        v-model.number.lazy="wish.count"
        class="number short"
        type="number"
        min="1"
        aria-label="number of stills"
        @focus="wish.ending = 'count'"
      />
      stills</label
    >
    <label
      ><input v-model="wish.ending" type="radio" value="span" /> after
      <input v-model.lazy="wish.span" class="number short" aria-label="for how long" @focus="wish.ending = 'span'"
    /></label>
    <label
      ><input v-model="wish.ending" type="radio" value="until" /> at
      <input
        v-model.lazy="wish.until"
        type="time"
        step="1"
        aria-label="at what time it ends"
        @focus="wish.ending = 'until'"
    /></label>
  </fieldset>
  <label class="line"
    ><span>It starts</span
    ><span
      ><input v-model.lazy="wish.starts" type="time" step="1" aria-label="at what time it starts" />
      <span class="quiet">or at once</span></span
    ></label
  >
</template>

<style scoped>
.line {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 6.2rem minmax(0, 1fr);
}

.line select,
.line > input {
  width: 100%;
}

fieldset {
  border: 0;
  display: grid;
  gap: 0.3rem;
  margin: 0;
  padding: 0;
}

legend {
  margin-bottom: 0.3rem;
  padding: 0;
}

.short {
  width: 6rem;
}
</style>
