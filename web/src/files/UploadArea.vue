<script setup lang="ts">
import Button from "primevue/button";
import ProgressBar from "primevue/progressbar";
import { computed, ref, watch } from "vue";

import type { ShotStarted } from "../api/client";
import { bytesText, waitText } from "../parts/wording";
import { apart, droppedFolders, pickedFiles } from "./files";
import FootageTaker from "./FootageTaker.vue";
import { useUpload, type Into } from "./upload";

/** Which project stills go into; the short way makes one as it knows the first folder's name. */
const props = defineProps<{ into: Into }>();
/** What was sent has become shots, one of each folder and film. */
const emit = defineEmits<{ made: [started: ShotStarted[]] }>();

const upload = useUpload();
const folderPicker = ref<HTMLInputElement>();
const filePicker = ref<HTMLInputElement>();
const over = ref(false);
/** The film about which is asked what is to be taken of it: of this project, or on the short way. */
const film = computed(() =>
  upload.films.find(({ into }) => (typeof into === "number" ? into === props.into : typeof props.into !== "number")),
);
let taken: ShotStarted[] = [];

async function drop(event: DragEvent): Promise<void> {
  over.value = false;
  if (event.dataTransfer && !upload.running) await upload.send(props.into, await droppedFolders(event.dataTransfer));
}

async function pick(event: Event, inFolder: boolean): Promise<void> {
  const input = event.target as HTMLInputElement;
  const picked = pickedFiles(input.files);
  await upload.send(props.into, inFolder ? [picked] : apart(picked.files));
  input.value = "";
}

/** Nothing more is asked about a film: its stills are being taken, or it is left. */
function settled(started?: ShotStarted): void {
  upload.films = upload.films.filter((one) => one.sent !== film.value?.sent);
  if (started) taken.push(started);
  goOn();
}

function goOn(): void {
  if (film.value || !taken.length) return;
  emit("made", taken);
  taken = [];
}

watch(
  () => upload.made,
  (started) => {
    if (!started.length) return;
    upload.made = [];
    taken.push(...started);
    goOn();
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
        Copying “{{ upload.name }}”<template v-if="upload.left">, {{ upload.left }} more to come</template>
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
    <FootageTaker
      v-else-if="film"
      :key="film.sent"
      :into="film.project"
      :film="{ sent: film.sent }"
      :name="film.name"
      @made="settled"
      @close="settled()"
    />
    <template v-else>
      <h3>Drop folders, stills or film here</h3>
      <p class="quiet">
        They are copied, and your own files stay as they are. Each folder becomes a shot; of a film you say what is
        taken. JPEG, PNG, TIFF, WebP, HEIF, AVIF and raw files are read.
      </p>
      <div class="choose">
        <Button label="Choose a folder …" severity="secondary" @click="folderPicker?.click()" />
        <button type="button" class="plain-button" @click="filePicker?.click()">stills or a film …</button>
      </div>
      <p v-if="upload.trouble" class="warning" role="alert">{{ upload.trouble }}</p>
    </template>
    <input
      ref="folderPicker"
      type="file"
      webkitdirectory
      multiple
      hidden
      aria-label="A folder of stills"
      @change="pick($event, true)"
    />
    <input ref="filePicker" type="file" multiple hidden aria-label="Stills or a film" @change="pick($event, false)" />
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

.choose {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem 1rem;
  white-space: nowrap;
}
</style>
