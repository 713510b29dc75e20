<script setup lang="ts">
import { ratingWords, REJECTED } from "./rating";
import SelectField from "./SelectField.vue";

/** How good stills are; nothing is shown as chosen where they differ. */
defineProps<{ rating: number | undefined; label?: string }>();
const emit = defineEmits<{ rate: [rating: number | null] }>();

const options = [
  ...[5, 4, 3, 2, 1].map((rating) => ({ rating: rating as number | null, words: ratingWords(rating) })),
  { rating: 0, words: "not rated" },
  { rating: REJECTED, words: "rejected" },
  { rating: null, words: "as the file says" },
];
</script>

<template>
  <SelectField
    class="rating-select"
    :label="label"
    name="Rating"
    :value="rating"
    :options="options"
    by="rating"
    words="words"
    placeholder="rate …"
    @change="emit('rate', $event)"
  />
</template>

<style scoped>
.rating-select {
  min-width: 6.6rem;
}
</style>
