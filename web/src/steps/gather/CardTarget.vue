<script setup lang="ts">
import InputText from "primevue/inputtext";
import { ref, watchEffect } from "vue";

import type { Folder, NewFolder } from "../../api/client";
import LocationBrowser from "../../files/LocationBrowser.vue";

/** A new folder that a card is copied into. */
const props = defineProps<{ called: string; which: string }>();
const target = defineModel<NewFolder>();

const folder = ref<Folder>();
const name = ref(`${props.called} ${new Date().toLocaleDateString("sv")}`);

watchEffect(() => {
  target.value =
    folder.value && name.value.trim()
      ? { location: folder.value.location, path: folder.value.path, folder: name.value.trim() }
      : undefined;
});
</script>

<template>
  <fieldset>
    <legend>{{ which }}</legend>
    <LocationBrowser v-model="folder" />
    <label>
      <span>into a new folder</span>
      <InputText v-model="name" maxlength="200" spellcheck="false" :aria-label="`Name of the folder for ${which}`" />
    </label>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 1px solid var(--hair);
  border-radius: var(--round-wide);
  display: grid;
  gap: 0.6rem;
  margin: 0;
  min-width: 0;
  padding: 0.6rem 0.9rem 0.9rem;
}

label {
  display: grid;
  gap: 0.2rem;
}
</style>
