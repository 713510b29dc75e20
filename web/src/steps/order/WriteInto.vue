<script setup lang="ts">
import Button from "primevue/button";
import InputNumber from "primevue/inputnumber";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";

import { api, type ExportList, type Folder, type PatternPart, type Writing } from "../../api/client";
import LocationBrowser from "../../files/LocationBrowser.vue";
import { useAttempt } from "../../parts/sentences";
import { bytesText, countText } from "../../parts/wording";
import { useShot } from "../../stores/shot";

const pictures = defineModel<Writing>({ required: true });
const props = defineProps<{ parts: PatternPart[]; files: ExportList | undefined; writing: Writing }>();

const shot = useShot();
const folder = ref<Folder>();
const name = ref(`${shot.shot!.name} numbered`);
const { refusal, attempt } = useAttempt();
const isCopy = computed(() => props.writing.what === "files");

function write(): Promise<void> {
  return attempt(async () => {
    const into = { location: folder.value!.location, path: folder.value!.path, folder: name.value };
    await api.export(shot.shot!.id, props.parts, props.writing, into);
  });
}
</script>

<template>
  <div class="into">
    <div v-if="!isCopy" class="form">
      <label
        ><input v-model="pictures.what" type="radio" value="fitted" /> as the clip shows them,
        {{ shot.decisions!.fit.size.width }} × {{ shot.decisions!.fit.size.height }}</label
      >
      <label><input v-model="pictures.what" type="radio" value="shot" /> as they were shot</label>
      <span class="formats">
        <label v-for="one in ['JPEG', 'PNG', 'TIFF'] as const" :key="one">
          <input v-model="pictures.format" type="radio" :value="one" /> {{ one === "TIFF" ? "TIFF, 16 bit" : one }}
        </label>
        <label v-if="pictures.format === 'JPEG'">
          quality
          <InputNumber
            v-model="pictures.quality"
            :min="50"
            :max="100"
            input-class="number short"
            aria-label="Quality of the JPEGs"
          />
        </label>
      </span>
    </div>
    <details>
      <summary>Into a new folder in {{ folder ? folder.path || folder.location : "…" }}</summary>
      <LocationBrowser v-model="folder" />
    </details>
    <label class="new">called <InputText v-model="name" maxlength="200" aria-label="Name of the new folder" /></label>
    <p v-if="files" class="quiet">
      {{ countText(files.lines.length, "file") }}, {{ isCopy ? "" : "about " }}{{ bytesText(files.needed) }};
      {{ bytesText(files.free) }} are free. Stills set aside are not written.
    </p>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <div>
      <Button
        :label="files ? `Write ${countText(files.lines.length, 'file')}` : 'Write'"
        class="main-action"
        :disabled="!folder || !name || !files || files.problems > 0"
        @click="write"
      />
    </div>
  </div>
</template>

<style scoped>
.into,
.form {
  display: grid;
  gap: 0.5rem;
}

.formats {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1rem;
}

.new {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: auto 1fr;
}

summary {
  cursor: pointer;
  margin-bottom: 0.4rem;
}

:deep(.short) {
  padding: 0.1rem 0.4rem;
  width: 3.4rem;
}
</style>
