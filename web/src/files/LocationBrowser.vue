<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from "vue";

import { api, type Folder, type Location } from "../api/client";
import { onTold } from "../api/events";
import { useRead } from "../api/queries";
import SelectField from "../parts/SelectField.vue";
import { useAttempt } from "../parts/sentences";
import FolderRows from "./FolderRows.vue";

// Needed once for each folder, if at all.
const NameLocation = defineAsyncComponent(() => import("./NameLocation.vue"));

/**
 * The folder that is shown; while another one is fetched there is none, so that nothing is done with the one before.
 */
const folder = defineModel<Folder>();

const {
  answer: locations,
  refusal: locationsUnread,
  again: readLocations,
} = useRead(() => ({ key: ["locations"], query: api.locations }));
const { answer: machine, again: readMachine } = useRead(() => ({ key: ["machine"], query: api.machine }));
const { refusal: notNamed, attempt } = useAttempt();
/** Whether another folder is being looked for, to be named. */
const naming = ref(false);
const picked = ref<string>();
const location = computed({
  get: () => picked.value ?? locations.value?.[0]?.name,
  set: (name) => (picked.value = name),
});
const path = ref("");
const { answer: found, refusal: folderUnread } = useRead(() => ({
  key: ["folder", location.value ?? "", path.value],
  query: () => api.folder(location.value!, path.value),
  wanted: location.value !== undefined,
  // What is in a folder may be another thing a moment later.
  gcTime: 0,
}));
/** What was shown last, while another one is fetched. */
const shown = ref<Folder>();
const refusal = computed(() => notNamed.value || locationsUnread.value || folderUnread.value);
/** What is plugged in and was never looked into. */
const disks = computed(
  () => machine.value?.disks.filter((disk) => !locations.value?.some((one) => one.folder === disk.folder)) ?? [],
);
const trail = computed(() => (shown.value?.path ? shown.value.path.split("/") : []));

function goInto(name: string): void {
  location.value = name;
  look("");
}

function lookInto(folder: string): Promise<void> {
  return attempt(async () => named(await api.nameLocation(folder)));
}

async function named(location: Location): Promise<void> {
  naming.value = false;
  await readLocations();
  goInto(location.name);
}

function look(wanted: string): void {
  path.value = wanted;
}

function inside(name: string): string {
  return [...trail.value, name].join("/");
}

// A card that was taken out is no location any more, one that was plugged in may be.
onTold("disks", () => void Promise.all([readMachine(), readLocations()]));
watch(
  [found, naming],
  ([now, looking]) => {
    // What is done next is done with what is seen.
    folder.value = looking ? undefined : now;
    shown.value = now ?? shown.value;
  },
  { immediate: true },
);
</script>

<template>
  <div class="browser" :class="{ room: locations?.length !== 0 }">
    <p v-if="disks.length && !naming && locations?.length" class="disks">
      <button
        v-for="disk in disks"
        :key="disk.folder"
        type="button"
        class="plain-button"
        @click="lookInto(disk.folder)"
      >
        {{ disk.is_card ? "Card" : "Disk" }} “{{ disk.name }}”: look into it
      </button>
    </p>
    <template v-if="locations?.length && !naming">
      <SelectField
        v-if="locations.length > 1"
        name="Location"
        :value="location"
        :options="locations"
        by="name"
        words="folder"
        @change="goInto"
      />
      <nav class="trail" aria-label="Folder">
        <button type="button" class="plain-button" @click="look('')">{{ location }}</button>
        <template v-for="(part, index) in trail" :key="index">
          <span aria-hidden="true">/</span>
          <button type="button" class="plain-button" @click="look(trail.slice(0, index + 1).join('/'))">
            {{ part }}
          </button>
        </template>
        <button type="button" class="plain-button another" @click="naming = true">another folder …</button>
      </nav>
      <FolderRows v-if="shown" :folders="shown.folders" @open="(name) => look(inside(name))">
        <slot name="files" :folder="shown" :inside="inside"></slot>
        <li v-if="!shown.folders.length && !shown.footage.length" class="quiet none">No folders in here.</li>
      </FolderRows>
    </template>
    <NameLocation
      v-else-if="locations && machine"
      :machine="machine"
      :closable="locations.length > 0"
      @named="named"
      @close="naming = false"
    />
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </div>
</template>

<style scoped>
.browser {
  display: grid;
  gap: 0.6rem;
}

/* Kept free from the beginning: a list that arrives moves nothing under a pointer. */
.room {
  align-content: start;
  min-height: 15rem;
}

.trail {
  align-items: baseline;
  color: var(--line);
  display: flex;
  flex-wrap: wrap;
  margin-left: -0.3rem;
}

.another {
  margin-left: auto;
}

.disks {
  color: var(--line);
  display: grid;
  justify-items: start;
  margin: 0 0 0 -0.3rem;
}
</style>
