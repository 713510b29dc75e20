<script setup lang="ts">
import { ref } from "vue";

import type { Folder, ShotStarted } from "../../api/client";
import FootageTaker from "../../files/FootageTaker.vue";
import LocationBrowser from "../../files/LocationBrowser.vue";
import UploadArea from "../../files/UploadArea.vue";
import { useUpload } from "../../files/upload";

/** A folder that is copied from here, one that is used where it lies, or a film stills are taken from. */
defineProps<{ projectFor: (name: string) => Promise<number> }>();
const folder = defineModel<Folder>();
const emit = defineEmits<{ copied: [started: ShotStarted, name: string] }>();

const upload = useUpload();
const film = ref<{ location: string; path: string }>();
</script>

<template>
  <UploadArea :into="projectFor" @made="(started) => emit('copied', started, upload.name)" />
  <h3 v-if="!upload.running">or use one where it lies</h3>
  <LocationBrowser v-if="!upload.running" v-model="folder" @update:model-value="film = undefined">
    <template #files="{ folder: shown, inside }">
      <li v-for="name in shown.footage" :key="name">
        <button type="button" class="plain-button" @click="film = { location: shown.location, path: inside(name) }">
          {{ name }} <span class="quiet">film: take stills …</span>
        </button>
      </li>
    </template>
  </LocationBrowser>
  <FootageTaker
    v-if="film"
    :key="film.path"
    v-bind="film"
    :into="projectFor"
    @made="(started) => emit('copied', started, film!.path.split('/').at(-1)!)"
    @close="film = undefined"
  />
  <p v-else-if="folder">
    <template v-if="folder.stills"
      >{{ folder.stills.toLocaleString("en") }} stills, <span class="number">{{ folder.first }}</span> to
      <span class="number">{{ folder.last }}</span></template
    >
    <span v-else class="quiet">Open the folder the stills lie in.</span>
  </p>
</template>
