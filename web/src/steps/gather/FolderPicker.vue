<script setup lang="ts">
import { useLocalStorage } from "@vueuse/core";
import Button from "primevue/button";
import { ref } from "vue";
import { useRouter } from "vue-router";

import { api, type Folder, type ShotStarted } from "../../api/client";
import FolderOrFilm from "../../files/FolderOrFilm.vue";
import { useAttempt } from "../../parts/sentences";

const props = defineProps<{ projectId: number }>();
const emit = defineEmits<{ several: [started: ShotStarted[]] }>();

const router = useRouter();
const folder = ref<Folder>();
const copy = useLocalStorage("copy-files", false);
const { refusal, attempt } = useAttempt();

function gather(): Promise<void> {
  return attempt(async () => {
    await open(await api.gatherFolder(props.projectId, folder.value!.location, folder.value!.path, copy.value));
  });
}

function gatherEach(): Promise<void> {
  return attempt(async () => {
    const { location, path } = folder.value!;
    emit("several", await api.gatherEach(props.projectId, location, path, copy.value));
  });
}

async function open(started: ShotStarted): Promise<void> {
  await router.push({ name: "shot", params: { shot: started.shot_id, step: "gather" } });
}
</script>

<template>
  <div class="picker">
    <h3>Or point at a folder on this machine</h3>
    <FolderOrFilm v-model="folder" :into="projectId" @taken="open">
      <template v-if="folder">
        <p>
          <template v-if="folder.stills">
            {{ folder.stills.toLocaleString("en") }} {{ folder.stills === 1 ? "file" : "files" }} from
            <span class="number">{{ folder.first }}</span> to <span class="number">{{ folder.last }}</span>
          </template>
          <span v-else class="quiet">
            {{
              folder.folders.length
                ? "No stills right in this folder. Used as it is, all in its folders are gathered."
                : "No stills in this folder."
            }}
          </span>
        </p>
        <label class="copy">
          <input v-model="copy" type="checkbox" />
          <span>Copy the files into the project <small class="quiet">for a card that will be taken out</small></span>
        </label>
        <div class="use">
          <Button
            label="Use this folder"
            class="main-action"
            :disabled="!folder.stills && !folder.folders.length"
            @click="gather"
          />
          <Button
            v-if="folder.folders.length > 1"
            :label="`A shot of each of its ${folder.folders.length} folders`"
            severity="secondary"
            @click="gatherEach"
          />
          <span class="quiet">{{ copy ? "The originals stay as they are." : "The stills stay where they are." }}</span>
        </div>
      </template>
      <div v-else class="use"><Button label="Use this folder" class="main-action" disabled /></div>
    </FolderOrFilm>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </div>
</template>

<style scoped>
.picker {
  align-content: start;
  border: 1px solid var(--hair);
  border-radius: var(--round-wide);
  display: grid;
  gap: 0.6rem;
  padding: 1.3rem;
}

.copy {
  cursor: pointer;
  display: flex;
  gap: 0.5rem;
}

.copy small {
  font-size: var(--type-near);
}

.use {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem 1rem;
}

.use .main-action {
  flex: none;
}
</style>
