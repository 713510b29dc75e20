<script setup lang="ts">
import Button from "primevue/button";
import ProgressBar from "primevue/progressbar";
import { ref, watch } from "vue";

import type { ShotStarted } from "../api/client";
import { bytesText, waitText } from "../parts/wording";
import { useUpload, type Into } from "./upload";
import { droppedFolders, pickedFiles } from "./files";

/** Which project stills go into; the short way makes one as it knows the folder's name. */
const props = defineProps<{ into: Into }>();
const emit = defineEmits<{ made: [started: ShotStarted] }>();

const upload = useUpload();
const picker = ref<HTMLInputElement>();
const over = ref(false);
/** How many folders are still to be sent after the one that is. */
const left = ref(0);
/** Whether each of several folders becomes a shot, none of which is gone on with by itself. */
let several = false;

/** Send what was dropped: of several folders each becomes a shot, in a project; the short way has but one. */
async function drop(event: DragEvent): Promise<void> {
  over.value = false;
  if (!event.dataTransfer) return;
  const folders = await droppedFolders(event.dataTransfer, typeof props.into === "number");
  several = folders.length > 1;
  left.value = folders.length;
  for (const folder of folders) {
    left.value -= 1;
    if (!(await upload.send(props.into, folder))) break;
  }
  left.value = 0;
}

async function pick(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  several = false;
  await upload.send(props.into, pickedFiles(input.files));
  input.value = "";
}

watch(
  () => upload.made,
  (started) => {
    if (!started) return;
    upload.made = undefined;
    if (!several) emit("made", started);
  },
);
</script>

<template>
  <div
    class="area"
    :class="{ over }"
    @dragenter.prevent="over = true"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <template v-if="upload.running">
      <h3>
        Copying “{{ upload.name }}”<template v-if="left">, {{ left }} more to come</template>
      </h3>
      <ProgressBar :value="upload.share * 100" :show-value="false" aria-label="Share copied" />
      <p class="number" role="status">
        {{ upload.filesDone.toLocaleString("en") }} of {{ upload.filesTotal.toLocaleString("en") }} files,
        {{ bytesText(upload.bytesDone) }} of {{ bytesText(upload.bytesTotal) }}<br />
        <template v-if="upload.speed">
          {{ bytesText(upload.speed) }} a second, {{ waitText(upload.secondsToGo) }} to go
        </template>
        <template v-else>starting …</template>
      </p>
      <p v-if="upload.trouble" class="warning" role="alert">{{ upload.trouble }}</p>
      <div><Button label="Cancel" severity="secondary" @click="upload.cancel()" /></div>
    </template>
    <template v-else>
      <h3>Drop {{ typeof into === "number" ? "folders" : "a folder" }} of stills here</h3>
      <p class="quiet">
        They are copied, and your own files stay as they are<template v-if="typeof into === 'number'"
          >; each folder becomes a shot</template
        >. JPEG, PNG, TIFF, WebP, HEIF, AVIF and raw files are read.
      </p>
      <div><Button label="Choose a folder …" severity="secondary" @click="picker?.click()" /></div>
      <p v-if="upload.trouble" class="warning" role="alert">{{ upload.trouble }}</p>
    </template>
    <input ref="picker" type="file" webkitdirectory multiple hidden aria-label="A folder of stills" @change="pick" />
  </div>
</template>

<style scoped>
.area {
  align-content: start;
  border: 1.5px dashed var(--line);
  border-radius: var(--round-wide);
  display: grid;
  gap: 0.7rem;
  min-height: 15rem;
  padding: 1.3rem;
}

.area.over {
  background: var(--line-pale);
  border-style: solid;
}
</style>
