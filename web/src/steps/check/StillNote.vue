<script setup lang="ts">
import { computed, ref, watch } from "vue";

import { api } from "../../api/client";
import RatingSelect from "../../parts/RatingSelect.vue";
import { useShot } from "../../stores/shot";
import RatingsBeside from "./RatingsBeside.vue";

const shot = useShot();
const still = computed(() => shot.stills.stills[shot.current]);
const text = ref("");

watch(
  () => [still.value?.id, still.value && shot.notes.get(still.value.id)] as const,
  ([, note]) => (text.value = note ?? ""),
  { immediate: true },
);

function keep(): void {
  const of = still.value;
  if (!of || text.value.trim() === (shot.notes.get(of.id) ?? "")) return;
  const written = text.value;
  void shot.change((id, seen) => api.note(id, seen, of.id, written));
}

function rate(rating: number | null): void {
  const of = still.value!.id;
  void shot.change((id, seen) => api.rate(id, seen, [of], rating));
}
</script>

<template>
  <section v-if="still" class="note">
    <label>
      <h3>Note on still {{ (still.position + 1).toLocaleString("en") }}</h3>
      <span v-if="still.caption" class="quiet">{{ still.caption }}</span>
      <input v-model="text" maxlength="500" placeholder="for yourself, and for who cuts the film" @change="keep" />
    </label>
    <RatingSelect label="Rating" :rating="shot.ratings.get(still.id) ?? 0" @rate="rate" />
    <RatingsBeside />
  </section>
</template>

<style scoped>
.note {
  display: grid;
  gap: 0.6rem;
}

.note > label {
  display: grid;
  gap: 0.35rem;
}

input {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  border-radius: var(--round);
  color: inherit;
  font: inherit;
  padding: 0.35rem 0.5rem;
}
</style>
