<script setup lang="ts">
import { computed, ref } from "vue";

import { api } from "../../api/client";
import { useAttempt } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import { useShot } from "../../stores/shot";

type Kind = NonNullable<typeof shot.sorting>["left_out"][number]["kind"];

const shot = useShot();
const { refusal, attempt } = useAttempt();
const open = ref<Kind>();
const beside = computed(() => shot.sorting?.left_out ?? []);

/** Files that should have been stills are always named, the rest on wish. */
function isOpen(kind: Kind): boolean {
  return kind === "unreadable" || open.value === kind;
}

function words(kind: Kind, files: number): string {
  const names: Record<Kind, [string, string]> = {
    pair: shot.shot!.raws
      ? ["JPEG beside its raw file", "JPEGs beside their raw files"]
      : ["raw file beside its JPEG", "raw files beside their JPEGs"],
    footage: ["film, to be used from the project's page", "films, to be used from the project's page"],
    sound: ["sound file", "sound files"],
    sidecar: ["sidecar file, which stays with its still", "sidecar files, which stay with their stills"],
    picture: ["picture of a kind not read here", "pictures of a kind not read here"],
    system: ["file of the system or the camera", "files of the system or the camera"],
    raw: ["raw file that cannot be read", "raw files that cannot be read"],
    other: ["file that is no picture", "files that are no pictures"],
    unreadable: ["file that cannot be read", "files that cannot be read"],
    "taken out": ["still taken out", "stills taken out"],
  };
  return countText(files, ...names[kind]);
}

const again = (work: () => Promise<unknown>) => attempt(async () => void (await work()));
</script>

<template>
  <section v-if="beside.length" class="beside" aria-labelledby="beside">
    <h3 id="beside">Also in the folder</h3>
    <ul>
      <li v-for="one in beside" :key="one.kind" :class="{ doubtful: one.kind === 'unreadable' }">
        <button
          type="button"
          class="plain-button"
          :aria-expanded="isOpen(one.kind)"
          @click="open = open === one.kind ? undefined : one.kind"
        >
          {{ words(one.kind, one.files) }}
        </button>
        <button
          v-if="one.kind === 'pair'"
          type="button"
          class="plain-button act"
          @click="again(() => api.useRaws(shot.shot!.id, !shot.shot!.raws))"
        >
          use {{ shot.shot!.raws ? "the JPEGs" : "the raw files" }} instead
        </button>
        <button
          v-if="one.kind === 'taken out'"
          type="button"
          class="plain-button act"
          @click="again(() => api.bringBack(shot.shot!.id))"
        >
          bring back
        </button>
        <ul v-if="isOpen(one.kind)" class="files">
          <li
            v-for="file in shot.stills.left_out.filter((file) => file.kind === one.kind)"
            :key="file.name"
            :title="file.name"
          >
            {{ file.reason }}
          </li>
        </ul>
      </li>
    </ul>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  </section>
</template>

<style scoped>
.beside {
  display: grid;
  gap: 0.5rem;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

.doubtful {
  border-left: 3px solid var(--saffron);
  padding-left: 0.3rem;
}

li > button {
  text-align: left;
}

.act {
  color: var(--line);
}

.files {
  color: var(--soft-ink);
  display: grid;
  gap: 0.3rem;
  max-height: 14rem;
  overflow: auto;
  padding: 0.3rem 0 0.5rem 0.9rem;
}

.files li {
  overflow-wrap: anywhere;
}
</style>
