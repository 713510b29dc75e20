<script setup lang="ts">
import InputText from "primevue/inputtext";
import { defineAsyncComponent, ref, watch } from "vue";

import type { Folder } from "../../api/client";
import { useEncoding } from "./encoding";

const LocationBrowser = defineAsyncComponent(() => import("../../files/LocationBrowser.vue"));

const { into, pattern, offers, choices } = useEncoding();
const toFolder = ref(into.value !== undefined);
const folder = ref<Folder>();

watch([toFolder, folder], () => {
  into.value =
    toFolder.value && folder.value ? { location: folder.value.location, path: folder.value.path } : undefined;
});
</script>

<template>
  <div class="where">
    <label
      ><input v-model="toFolder" type="radio" name="where" :value="false" /> keep it here, to play and download</label
    >
    <label
      ><input v-model="toFolder" type="radio" name="where" :value="true" /> put it into a folder{{
        into ? `: ${into.path || into.location}` : ""
      }}</label
    >
    <LocationBrowser v-if="toFolder" v-model="folder" />
    <label class="field"
      ><span>called</span
      ><InputText
        v-model.lazy="pattern"
        class="number"
        maxlength="200"
        :placeholder="choices?.pattern"
        aria-label="Name of the file, as a pattern"
    /></label>
    <p class="quiet name">{{ offers?.name }}</p>
  </div>
</template>

<style scoped>
.where {
  display: grid;
  gap: 0.35rem;
}

.field {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 4rem 1fr;
}

.name {
  margin: 0 0 0 4.6rem;
  overflow-wrap: anywhere;
}
</style>
