<script setup lang="ts">
import { api } from "../../api/client";
import { useRead } from "../../api/queries";
import { secondsText } from "./seconds";

/** What interval suits, by what moves; a row is chosen, and its interval taken, by a click. */
const props = defineProps<{ subject: string; rate: string }>();
const emit = defineEmits<{ subject: [key: string]; interval: [text: string] }>();

const { answer: subjects } = useRead(() => ({
  key: ["subjects", props.rate],
  query: () => api.subjects(props.rate),
}));
</script>

<template>
  <table class="subjects">
    <thead>
      <tr>
        <th scope="col">of</th>
        <th scope="col">crosses the view in</th>
        <th scope="col">a still every</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="one in subjects" :key="one.key" :class="{ chosen: subject === one.key }">
        <th scope="row">
          <label :title="one.why"
            ><input type="radio" name="subject" :checked="subject === one.key" @change="emit('subject', one.key)" />
            {{ one.name }}</label
          >
        </th>
        <td class="number">{{ secondsText(one.crossing_s[0]) }} – {{ secondsText(one.crossing_s[1]) }}</td>
        <td class="number">
          <button
            type="button"
            class="plain-button act"
            :aria-label="`Take ${secondsText(one.shortest_s)} between stills`"
            @click="emit('interval', `${one.shortest_s}`)"
          >
            {{ secondsText(one.shortest_s) }}</button>–<button
            type="button"
            class="plain-button act"
            :aria-label="`Take ${secondsText(one.longest_s)} between stills`"
            @click="emit('interval', `${one.longest_s}`)"
          >
            {{ secondsText(one.longest_s) }}
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.subjects {
  border-collapse: collapse;
  width: 100%;
}

th,
td {
  border-top: 1px solid var(--hair);
  font-weight: 400;
  padding: 0.1rem 0.4rem 0.1rem 0;
  text-align: left;
  white-space: nowrap;
}

thead th {
  border-top: 0;
  color: var(--soft-ink);
}

th label {
  cursor: pointer;
}

.chosen {
  background: var(--line-pale);
}
</style>
