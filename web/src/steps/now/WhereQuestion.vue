<script setup lang="ts">
import type { Folder, ShotStarted } from "../../api/client";
import FolderOrFilm from "../../files/FolderOrFilm.vue";
import UploadArea from "../../files/UploadArea.vue";
import { useUpload } from "../../files/upload";

/** A folder that is copied from here, one that is used where it lies, or a film stills are taken from. */
defineProps<{ projectFor: (name: string) => Promise<number> }>();
const folder = defineModel<Folder>();
/** Whether each folder in it becomes a clip of its own. */
const each = defineModel<boolean>("each");
const emit = defineEmits<{ copied: [started: ShotStarted[], name: string, trouble?: string] }>();

const upload = useUpload();
</script>

<template>
  <UploadArea :into="projectFor" @made="(started) => emit('copied', started, upload.name, upload.trouble)" />
  <h3 v-if="!upload.running">or use one where it lies</h3>
  <FolderOrFilm
    v-if="!upload.running"
    v-model="folder"
    :into="projectFor"
    @taken="(started, name) => emit('copied', [started], name)"
  >
    <p v-if="folder">
      <template v-if="folder.stills"
        >{{ folder.stills.toLocaleString("en") }} stills, <span class="number">{{ folder.first }}</span> to
        <span class="number">{{ folder.last }}</span></template
      >
      <span v-else class="quiet">Open the folder the stills lie in.</span>
    </p>
    <label v-if="folder && folder.folders.length > 1"
      ><input v-model="each" type="checkbox" /> each of its {{ folder.folders.length }} folders a clip of its own</label
    >
  </FolderOrFilm>
</template>
