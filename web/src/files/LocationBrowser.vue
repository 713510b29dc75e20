<script setup lang="ts">
import { computed, ref, watch } from "vue";

import { api, type Folder } from "../api/client";
import { useRead } from "../api/queries";
import SelectField from "../parts/SelectField.vue";

/**
 * The folder that is shown; while another one is fetched there is none, so that nothing is done with the one before.
 */
const folder = defineModel<Folder>();

const { answer: locations, refusal: locationsUnread } = useRead(() => ({ key: ["locations"], query: api.locations }));
const picked = ref<string>();
const location = computed({
  get: () => picked.value ?? locations.value?.[0]?.name,
  set: (name) => (picked.value = name),
});
const path = ref("");
const { answer: found, refusal: folderUnread } = useRead(() => ({
  key: ["folder", location.value ?? "", path.value],
  query: () => api.folder(location.value!, path.value),
  wanted: location.value !== undefined,
  // What is in a folder may be another thing a moment later.
  gcTime: 0,
}));
/** What was shown last, while another one is fetched. */
const shown = ref<Folder>();
const refusal = computed(() => locationsUnread.value || folderUnread.value);
const trail = computed(() => (shown.value?.path ? shown.value.path.split("/") : []));

function goInto(name: string): void {
  location.value = name;
  look("");
}

function look(wanted: string): void {
  path.value = wanted;
}

function inside(name: string): string {
  return [...trail.value, name].join("/");
}

watch(
  found,
  (now) => {
    folder.value = now;
    shown.value = now ?? shown.value;
  },
  { immediate: true },
);
</script>

<template>
  <div class="browser" :class="{ room: locations?.length !== 0 }">
    <template v-if="locations?.length">
      <SelectField
        v-if="locations.length > 1"
        name="Location"
        :value="location"
        :options="locations"
        by="name"
        words="folder"
        @change="goInto"
      />
      <nav class="trail" aria-label="Folder">
        <button type="button" class="plain-button" @click="look('')">{{ location }}</button>
        <template v-for="(part, index) in trail" :key="index">
          <span aria-hidden="true">/</span>
          <button type="button" class="plain-button" @click="look(trail.slice(0, index + 1).join('/'))">
            {{ part }}
          </button>
        </template>
      </nav>
      <ul v-if="shown" class="folders">
        <li v-for="name in shown.folders" :key="name">
          <button type="button" class="plain-button" @click="look(inside(name))">
            {{ name }} <span aria-hidden="true">›</span>
          </button>
        </li>
        <slot name="files" :folder="shown" :inside="inside"></slot>
        <li v-if="!shown.folders.length && !shown.footage.length" class="quiet none">No folders in here.</li>
      </ul>
    </template>
    <p v-else-if="locations">
      Stills on this machine need not be copied, once the program knows their location:
      <code>./run start --location FOLDER</code>, and it is remembered.
    </p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </div>
</template>

<style scoped>
.browser {
  display: grid;
  gap: 0.6rem;
}

/* Kept free from the beginning: a list that arrives moves nothing under a pointer. */
.room {
  align-content: start;
  min-height: 15rem;
}

.trail {
  color: var(--line);
  margin-left: -0.3rem;
}

.folders {
  border-bottom: 1px solid var(--hair);
  border-top: 1px solid var(--hair);
  list-style: none;
  margin: 0;
  max-height: 11rem;
  overflow: auto;
  padding: 0.3rem 0;
}

.folders :deep(button) {
  display: flex;
  justify-content: space-between;
  padding: 0.25rem 0.5rem;
  text-align: left;
  width: 100%;
}

.none {
  padding: 0.25rem 0.5rem;
}
</style>
