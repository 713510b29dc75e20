<script setup lang="ts">
import Button from "primevue/button";
import Select from "primevue/select";
import { computed, ref } from "vue";
import { useRouter } from "vue-router";

import { api, type Folder, type Place } from "../../api/client";
import { useAttempt } from "../../parts/sentences";

const props = defineProps<{ projectId: number }>();

const router = useRouter();
const places = ref<Place[]>();
const place = ref<string>();
const folder = ref<Folder>();
const { refusal, attempt } = useAttempt();
const looking = ref(false);
const trail = computed(() => (folder.value?.path ? folder.value.path.split("/") : []));

function look(path: string): Promise<void> {
  // Until the folder that was clicked is shown, "this folder" would still be the one before.
  looking.value = true;
  return attempt(async () => {
    folder.value = await api.folder(place.value!, path);
  }).finally(() => {
    looking.value = false;
  });
}

function gather(): Promise<void> {
  return attempt(async () => {
    const started = await api.gatherFolder(props.projectId, place.value!, folder.value!.path);
    await router.push({ name: "shot", params: { shot: started.shot_id, step: "gather" } });
  });
}

function inside(name: string): string {
  return [...trail.value, name].join("/");
}

void attempt(async () => {
  places.value = await api.places();
  place.value = places.value[0]?.name;
  if (place.value) await look("");
});
</script>

<template>
  <div class="picker">
    <h3>Or point at a folder on this machine</h3>
    <p class="quiet">The stills stay where they are; nothing is copied.</p>
    <template v-if="places?.length">
      <Select
        v-if="places.length > 1"
        v-model="place"
        :options="places"
        option-label="folder"
        option-value="name"
        aria-label="Place"
        fluid
        @change="look('')"
      />
      <nav class="trail" aria-label="Folder">
        <button type="button" class="plain-button" @click="look('')">{{ place }}</button>
        <template v-for="(part, index) in trail" :key="index">
          <span aria-hidden="true">/</span>
          <button type="button" class="plain-button" @click="look(trail.slice(0, index + 1).join('/'))">{{ part }}</button>
        </template>
      </nav>
      <ul v-if="folder" class="folders">
        <li v-for="name in folder.folders" :key="name">
          <button type="button" class="plain-button" @click="look(inside(name))">{{ name }} <span aria-hidden="true">›</span></button>
        </li>
        <li v-if="!folder.folders.length" class="quiet none">No folders in here.</li>
      </ul>
      <div v-if="folder" class="use">
        <p>
          <template v-if="folder.stills">
            {{ folder.stills.toLocaleString("en") }} {{ folder.stills === 1 ? "file" : "files" }} from
            <span class="number">{{ folder.first }}</span> to <span class="number">{{ folder.last }}</span>
          </template>
          <span v-else class="quiet">
            {{
              folder.folders.length
                ? "No stills right in this folder. Used as it is, all in its folders become one shot."
                : "No stills in this folder."
            }}
          </span>
        </p>
        <Button label="Use this folder" class="main-action" :disabled="looking || (!folder.stills && !folder.folders.length)" @click="gather" />
      </div>
    </template>
    <p v-else-if="places">
      No place is named yet. Start the program with <code>./run start --place FOLDER</code> and it is remembered.
    </p>
    <p v-if="refusal" class="look" role="alert">{{ refusal }}</p>
  </div>
</template>

<style scoped>
.picker {
  align-content: start;
  border: 1px solid var(--hair);
  border-radius: 4px;
  display: grid;
  gap: 0.6rem;
  padding: 1.3rem;
}

.trail {
  color: var(--line);
  margin-left: -0.3rem;
}

.folders {
  border-bottom: 1px solid var(--hair);
  border-top: 1px solid var(--hair);
  list-style: none;
  margin: 0;
  max-height: 11rem;
  overflow: auto;
  padding: 0.3rem 0;
}

.folders button {
  display: flex;
  justify-content: space-between;
  padding: 0.25rem 0.5rem;
  text-align: left;
  width: 100%;
}

.none {
  padding: 0.25rem 0.5rem;
}

.use {
  align-items: center;
  display: flex;
  gap: 1rem;
  justify-content: space-between;
}

.use .main-action {
  flex: none;
}
</style>
