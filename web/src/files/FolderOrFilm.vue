<script setup lang="ts">
import { ref } from "vue";

import type { Folder, ShotStarted } from "../api/client";
import FootageTaker from "./FootageTaker.vue";
import LocationBrowser from "./LocationBrowser.vue";
import type { Into } from "./upload";

/** A folder of this machine, with what is to be done with it in the slot; or a film that stills are taken from. */
defineProps<{ into: Into }>();
const folder = defineModel<Folder>();
const emit = defineEmits<{ taken: [started: ShotStarted, name: string] }>();

const film = ref<{ location: string; path: string }>();

function choose(location: string, path: string): void {
  film.value = { location, path };
}
</script>

<template>
  <LocationBrowser v-model="folder" @update:model-value="film = undefined">
    <template #files="{ folder: shown, inside }">
      <li v-for="name in shown.footage" :key="name">
        <button type="button" class="plain-button" @click="choose(shown.location, inside(name))">
          {{ name }} <span class="quiet">film: take it in …</span>
        </button>
      </li>
    </template>
  </LocationBrowser>
  <FootageTaker
    v-if="film"
    :key="film.path"
    :film="film"
    :name="film.path.split('/').at(-1)!"
    :into="into"
    @made="(started) => emit('taken', started, film!.path.split('/').at(-1)!)"
    @close="film = undefined"
  />
  <slot v-else></slot>
</template>
