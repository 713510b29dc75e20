<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Popover from "primevue/popover";
import { computed, ref } from "vue";

import { api, type Version } from "../api/client";
import { useShot } from "../stores/shot";
import { useAttempt } from "../parts/sentences";

const shot = useShot();
const { refusal, attempt } = useAttempt();
const panel = ref<InstanceType<typeof Popover>>();
const name = ref("");
const renamed = ref<Version>();
const now = computed(() => shot.versions.find((one) => one.id === shot.version)?.name ?? "one version");

function add(): void {
  const wanted = name.value.trim();
  if (!wanted) return;
  name.value = "";
  void shot.change((id, seen) => api.addVersion(id, seen, wanted));
}

function open(version: Version): void {
  panel.value?.hide();
  void shot.change((id, seen) => api.openVersion(id, seen, version.id));
}

const rename = () =>
  attempt(async () => {
    shot.showVersions(await api.renameVersion(shot.shot!.id, renamed.value!.id, renamed.value!.name));
    renamed.value = undefined;
  });
const remove = (version: Version) =>
  attempt(async () => shot.showVersions(await api.deleteVersion(shot.shot!.id, version.id)));
</script>

<template>
  <button
    type="button"
    class="plain-button"
    title="Versions share stills, order and checks; each has its own fit, pace and format"
    @click="panel?.toggle($event)"
  >
    {{ now }} ▾
  </button>
  <Popover ref="panel">
    <div class="panel">
      <h3>Versions of this shot</h3>
      <p class="quiet">They share stills, order and checks; each has its own fit, pace and format.</p>
      <ul v-if="shot.versions.length">
        <li v-for="version in shot.versions" :key="version.id">
          <form v-if="renamed?.id === version.id" @submit.prevent="rename">
            <InputText v-model="renamed.name" maxlength="60" aria-label="New name" fluid />
            <Button type="submit" label="Keep" severity="secondary" size="small" />
          </form>
          <template v-else>
            <button
              type="button"
              class="plain-button name"
              :aria-current="version.id === shot.version || undefined"
              @click="open(version)"
            >
              {{ version.name }}
            </button>
            <button type="button" class="plain-button quiet" @click="renamed = { ...version }">rename</button>
            <button
              v-if="version.id !== shot.version"
              type="button"
              class="plain-button quiet"
              @click="remove(version)"
            >
              forget
            </button>
            <span v-else class="quiet">open</span>
          </template>
        </li>
      </ul>
      <form @submit.prevent="add">
        <InputText
          v-model="name"
          placeholder="upright, slow …"
          aria-label="Name of a new version"
          maxlength="60"
          fluid
        />
        <Button type="submit" label="Begin a version" severity="secondary" :disabled="!name.trim()" />
      </form>
      <p v-if="refusal || shot.refusal" class="warning" role="alert">{{ refusal || shot.refusal }}</p>
    </div>
  </Popover>
</template>

<style scoped src="./menu.css"></style>
