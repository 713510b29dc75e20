<script setup lang="ts">
import type { Folder, ShotStarted } from "../../api/client";
import LocationBrowser from "../../files/LocationBrowser.vue";
import UploadArea from "../../files/UploadArea.vue";
import { useUpload } from "../../files/upload";

/** A folder that is copied from here, or one that is used where it lies. */
defineProps<{ projectFor: (name: string) => Promise<number> }>();
const folder = defineModel<Folder>();
const emit = defineEmits<{ copied: [started: ShotStarted] }>();

const upload = useUpload();
</script>

<template>
  <UploadArea :into="projectFor" @made="(started) => emit('copied', started)" />
  <h3 v-if="!upload.running">or use one where it lies</h3>
  <LocationBrowser v-if="!upload.running" v-model="folder" />
  <p v-if="folder">
    <template v-if="folder.stills"
      >{{ folder.stills.toLocaleString("en") }} stills, <span class="number">{{ folder.first }}</span> to
      <span class="number">{{ folder.last }}</span></template
    >
    <span v-else class="quiet">Open the folder the stills lie in.</span>
  </p>
</template>
