<script setup lang="ts">
import { computed } from "vue";

import { bytesText, waitText } from "../../parts/wording";
import { useEncoding } from "./encoding";

const { choices, encode, offers, also, every, decide } = useEncoding();
const titles = computed(() => new Map(choices.value?.formats.map((one) => [one.name, one])));
/** The format that is decided, those that serve the same purpose, and those that were ticked. */
const shown = computed(() => {
  const purpose = choices.value?.purposes.find((one) => one.name === offers.value?.purpose);
  const names = new Set([encode.value.format, purpose?.encode.format, ...(purpose?.others ?? []), ...also.value]);
  return offers.value?.offers.filter((one) => every.value || names.has(one.format)) ?? [];
});

const said = computed(() => {
  const { sampled, wanted } = offers.value!;
  if (!sampled) return "This clip is being looked at; ~ is what clips usually take.";
  if (sampled < wanted) return `${sampled} of ${wanted} stretches of this clip measured …`;
  return `Measured on ${sampled} ${sampled === 1 ? "stretch" : "stretches"} of this very clip${shown.value.some((one) => !one.is_measured && !one.cannot) ? "; the others follow …" : "."}`;
});

function tick(format: (typeof shown.value)[number]["format"], on: boolean): void {
  if (on) also.value.add(format);
  else also.value.delete(format);
}
</script>

<template>
  <div v-if="offers" class="offers">
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="hidden">Encode</span></th>
          <th scope="col">format</th>
          <th scope="col" class="right">size</th>
          <th scope="col" class="right">time</th>
          <th scope="col">for</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="one in shown"
          :key="one.format"
          :class="{ now: one.format === encode.format, cannot: one.cannot }"
          :title="one.cannot || undefined"
        >
          <td>
            <input
              type="checkbox"
              :checked="one.format === encode.format || also.has(one.format)"
              :disabled="one.format === encode.format || !!one.cannot"
              :aria-label="`Encode ${titles.get(one.format)?.title} too`"
              @change="tick(one.format, ($event.target as HTMLInputElement).checked)"
            />
          </td>
          <th scope="row">
            <strong v-if="one.format === encode.format">{{ titles.get(one.format)?.title }}</strong>
            <button
              v-else
              type="button"
              class="plain-button"
              :disabled="!!one.cannot"
              @click="decide({ format: one.format, container: null })"
            >
              {{ titles.get(one.format)?.title }}
            </button>
          </th>
          <td class="number right">{{ one.cannot ? "–" : `${one.is_measured ? "" : "~ "}${bytesText(one.bytes)}` }}</td>
          <td class="number right">{{ one.cannot ? "–" : waitText(one.seconds) }}</td>
          <td class="quiet">{{ one.cannot || titles.get(one.format)?.takers }}</td>
        </tr>
      </tbody>
    </table>
    <p class="below">
      <span class="quiet" role="status">{{ said }}</span>
      <button type="button" class="plain-button more" :aria-expanded="every" @click="every = !every">
        {{ every ? "fewer formats" : "all formats" }}
      </button>
    </p>
    <p class="quiet below">
      Takes up to {{ bytesText(offers.memory_bytes) }} of memory; {{ bytesText(offers.free_bytes) }} of disk are free.
    </p>
  </div>
</template>

<style scoped>
.offers {
  display: grid;
  gap: 0.3rem;
}

table {
  border-collapse: collapse;
  width: 100%;
}

th,
td {
  border-top: 1px solid var(--hair);
  font-weight: 400;
  line-height: 1.25;
  padding: 0.3rem 0.35rem;
  text-align: left;
  vertical-align: baseline;
}

thead th {
  border-top: 0;
  color: var(--soft-ink);
  padding-top: 0;
}

th.right,
td.right {
  text-align: right;
  white-space: nowrap;
}

th[scope="row"] {
  min-width: 8.5rem;
}

th[scope="row"] button {
  color: var(--line);
  margin: 0;
  padding: 0;
  text-align: left;
}

.now {
  background: var(--shade);
}

.cannot {
  color: var(--soft-ink);
}

.hidden {
  clip-path: inset(50%);
  height: 1px;
  overflow: hidden;
  position: absolute;
  width: 1px;
}

.below {
  display: flex;
  gap: 1rem;
  justify-content: space-between;
  margin: 0;
}

.more {
  color: var(--line);
  padding: 0;
  white-space: nowrap;
}
</style>
