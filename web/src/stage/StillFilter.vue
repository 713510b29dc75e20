<script setup lang="ts">
import { computed } from "vue";

import { api } from "../api/client";
import SelectField from "../parts/SelectField.vue";
import { useShot } from "../stores/shot";
import type { ShownStills } from "./shownStills";

/** Which stills are shown by their ratings and labels, and what is done with those. */
const props = defineProps<{ shown: ShownStills }>();
const shot = useShot();
const labels = computed(() => [{ label: "", words: "all labels" }, ...props.shown.labels]);
const count = computed(() => props.shown.stills.length);

/** Set aside what is shown, or have nothing else in the clip. */
function setAside(which: "these" | "others"): void {
  const these = new Set(props.shown.stills.map((still) => still.id));
  const chosen = shot.stills.stills.filter((still) => these.has(still.id) === (which === "these"));
  void shot.change((id, seen) =>
    api.setAside(
      id,
      seen,
      chosen.map((still) => still.id),
      true,
    ),
  );
}
</script>

<template>
  <div class="filter" role="toolbar" aria-label="Which stills are shown">
    <SelectField
      name="Stills of which rating"
      :value="shown.wish.rating"
      :options="shown.options"
      by="rating"
      words="words"
      @change="shown.wishFor({ rating: $event })"
    />
    <SelectField
      v-if="shown.labels.length"
      name="Stills of which label"
      :value="shown.wish.label"
      :options="labels"
      by="label"
      words="words"
      @change="shown.wishFor({ label: $event })"
    />
    <template v-if="shown.isFiltered">
      <span class="number" role="status"
        >{{ count.toLocaleString("en") }} of {{ shot.count.toLocaleString("en") }} shown</span
      >
      <button type="button" class="plain-button" :disabled="!count" @click="setAside('these')">set these aside</button>
      <button type="button" class="plain-button" :disabled="!count || count === shot.count" @click="setAside('others')">
        set all others aside
      </button>
    </template>
  </div>
</template>

<style scoped>
.filter {
  align-items: center;
  border-bottom: 1px solid var(--hair);
  display: flex;
  flex-wrap: wrap;
  font-size: var(--type-near);
  gap: 0.3rem 0.9rem;
  padding: 0.3rem 0.9rem;
}

button {
  color: var(--line);
}
</style>
