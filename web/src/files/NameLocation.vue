<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref, watch } from "vue";

import { api, type Location, type Machine } from "../api/client";
import { useRead } from "../api/queries";
import { useAttempt } from "../parts/sentences";
import FolderRows from "./FolderRows.vue";

/** Any folder of this machine, found by its path or step by step, and looked into from then on. */
const props = defineProps<{ machine: Machine; closable: boolean }>();
const emit = defineEmits<{ named: [location: Location]; close: [] }>();

const path = ref(props.machine.home);
const written = ref(path.value);
const { refusal, attempt } = useAttempt();
const { answer: found, refusal: unread } = useRead(() => ({
  key: ["folder of this machine", path.value],
  query: () => api.lookAround(path.value),
  gcTime: 0,
}));
const begin = computed(() => [
  { name: "home", folder: props.machine.home },
  ...props.machine.disks.map((disk) => ({
    name: disk.is_card ? `${disk.name} (card)` : disk.name,
    folder: disk.folder,
  })),
]);

function go(to: string): void {
  path.value = to.trim();
}

function name(): Promise<void> {
  return attempt(async () => emit("named", await api.nameLocation(found.value!.path)));
}

watch([found, path], () => (written.value = found.value?.path ?? path.value));
</script>

<template>
  <section class="naming" aria-label="Another folder of this machine">
    <p class="begin">
      <button
        v-for="one in begin"
        :key="one.folder"
        type="button"
        class="plain-button"
        @click="go(one.folder)"
        v-text="one.name"
      ></button>
    </p>
    <div class="path">
      <label>
        <span>Folder</span>
        <!-- It may stand among questions that Enter answers. -->
        <InputText
          v-model="written"
          class="number"
          spellcheck="false"
          autocomplete="off"
          @keydown.enter.prevent.stop="go(written)"
        />
      </label>
      <button
        type="button"
        class="plain-button"
        :disabled="!found?.above"
        @click="found?.above && go(found.above)"
        v-text="'‹ up'"
      ></button>
    </div>
    <FolderRows
      v-if="found"
      :folders="found.folders"
      @open="(name) => go(`${found!.path === '/' ? '' : found!.path}/${name}`)"
    >
      <li v-if="!found.folders.length" class="quiet none">No folders in here.</li>
    </FolderRows>
    <p v-if="found" class="quiet count">
      {{ found.stills ? `${found.stills.toLocaleString("en")} files in here look like stills.` : "No stills in here." }}
    </p>
    <div class="use">
      <Button label="Look into this folder" :disabled="!found" @click="name" />
      <button v-if="closable" type="button" class="plain-button" @click="emit('close')">leave it</button>
    </div>
    <p v-if="refusal || unread" class="warning" role="alert">{{ refusal || unread }}</p>
  </section>
</template>

<style scoped>
.naming {
  display: grid;
  gap: 0.6rem;
}

.begin {
  color: var(--line);
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.8rem;
  margin: 0 0 0 -0.3rem;
}

.path {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: 1fr auto;
}

label {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: auto 1fr;
}

.count {
  margin: 0;
}

.use {
  align-items: center;
  display: flex;
  gap: 1rem;
}
</style>
