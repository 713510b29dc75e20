<script setup lang="ts">
import { refDebounced } from "@vueuse/core";
import { computed, ref, watch } from "vue";

import { api } from "../../api/client";
import { useRead } from "../../api/queries";
import NumberField from "../../parts/NumberField.vue";
import { useShot } from "../../stores/shot";
import { useLight } from "./light";

/** The lens of a shot whose stills do not name it, chosen by a few letters of its name, and what it was set to. */
const shot = useShot();
const light = useLight();
const chosen = computed(() => light.light.lens);
const words = ref("");
const wish = refDebounced(words, 200);
const { answer: found } = useRead(() => ({
  key: ["lenses", shot.shot!.id, wish.value],
  query: async () => (wish.value.trim().length > 1 ? await api.lenses(shot.shot!.id, wish.value.trim()) : []),
}));
const known = computed(() => found.value?.find((one) => one.name === (chosen.value?.name ?? words.value)));

watch(chosen, (lens) => (words.value = lens?.name ?? ""), { immediate: true });

/** A name that was taken from the list is chosen at once, one that was emptied let go of. */
function choose(): void {
  if (!words.value.trim()) {
    if (chosen.value) void shot.decide({ light: { lens: null, lens_profile: false } });
    return;
  }
  const lens = found.value?.find((one) => one.name === words.value);
  if (!lens || lens.name === chosen.value?.name) return;
  void shot.decide({ light: { lens: { name: lens.name, focal_mm: lens.shortest_mm }, lens_profile: true } });
}
</script>

<template>
  <div class="lens-choice">
    <label>
      <span>Choose the lens</span>
      <input
        v-model="words"
        type="search"
        list="lenses"
        placeholder="some of its name, such as 24-70"
        autocomplete="off"
        @input="choose"
        @change="choose"
      />
    </label>
    <datalist id="lenses">
      <option v-for="one in found" :key="one.name" :value="one.name"></option>
    </datalist>
    <NumberField
      v-if="chosen"
      label="set to, in mm"
      :value="chosen.focal_mm"
      :min="known?.shortest_mm ?? 1"
      :max="known?.longest_mm ?? 3000"
      :step="1"
      :places="1"
      @change="shot.decide({ light: { lens: { ...chosen, focal_mm: $event } } })"
    />
  </div>
</template>

<style scoped>
.lens-choice {
  display: grid;
  gap: 0.5rem;
}

label {
  display: grid;
  gap: 0.3rem;
}

input {
  background: var(--bright-paper);
  border: 1px solid var(--edge);
  border-radius: var(--round);
  color: var(--ink);
  font: inherit;
  min-width: 0;
  padding: 0.34rem 0.6rem;
}
</style>
