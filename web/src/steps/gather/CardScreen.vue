<script setup lang="ts">
import Button from "primevue/button";
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";

import { api, type CardNames, type Folder, type NewFolder } from "../../api/client";
import { useRead } from "../../api/queries";
import LocationBrowser from "../../files/LocationBrowser.vue";
import { useAttempt } from "../../parts/sentences";
import { bytesText, countText } from "../../parts/wording";
import { useHead } from "../../stores/head";
import { useProject } from "../../stores/project";
import CardShots from "./CardShots.vue";
import CardTarget from "./CardTarget.vue";

/** A card is emptied with proof: which one, what of it, under which names, and where to. */
const props = defineProps<{ projectId: number }>();

const router = useRouter();
const project = useProject();
const folder = ref<Folder>();
const chosen = ref<{ location: string; path: string }>();
const ticked = ref<number[]>([]);
const others = ref(true);
const names = ref<CardNames>({ folders: [], stills: null });
const targets = ref<(NewFolder | undefined)[]>([undefined]);
const { refusal, attempt } = useAttempt();

useHead(() => project.project && { project: project.project, inside: "card" });

const { answer: card, refusal: unread } = useRead(() => ({
  key: ["card", chosen.value?.location ?? "", chosen.value?.path ?? ""],
  query: () => api.card(chosen.value!.location, chosen.value!.path),
  wanted: chosen.value !== undefined,
  // What is on a card may be another thing a moment later.
  gcTime: 0,
}));
const wanted = computed(() => {
  const shots = ticked.value.map((at) => card.value?.shots[at]).filter((one) => one !== undefined);
  const sum = (of: "files" | "bytes") => shots.reduce((total, shot) => total + shot[of], 0);
  const beside = others.value ? [card.value?.others ?? 0, card.value?.others_bytes ?? 0] : [0, 0];
  return { files: sum("files") + beside[0]!, bytes: sum("bytes") + beside[1]! };
});
const into = computed(() => targets.value.filter((one) => one !== undefined));
const isWhole = computed(() => wanted.value.files > 0 && into.value.length === targets.value.length);

function look(): void {
  chosen.value = { location: folder.value!.location, path: folder.value!.path };
}

function copy(): Promise<void> {
  return attempt(async () => {
    await api.offload(props.projectId, { ...chosen.value!, seen: card.value!.listing }, names.value, {
      shots: ticked.value,
      others: others.value,
      into: into.value,
    });
    await router.push({ name: "project", params: { project: props.projectId } });
  });
}

watch(card, (now) => {
  if (!now) return;
  ticked.value = now.shots.map((_, at) => at);
  names.value = { folders: now.folders, stills: null };
});
watch(
  () => props.projectId,
  () => void attempt(async () => void (await project.load(props.projectId))),
  { immediate: true },
);
</script>

<template>
  <main class="card">
    <h1 class="for-listening">Empty a card</h1>
    <section aria-labelledby="card-from">
      <h2 id="card-from">From which card</h2>
      <LocationBrowser v-model="folder" />
      <div class="act">
        <Button :label="card ? 'Look at this one' : 'Look what is on it'" :disabled="!folder" @click="look" />
        <span class="quiet">Nothing on it is changed.</span>
      </div>
      <p v-if="unread" class="warning" role="alert">{{ unread }}</p>
    </section>
    <section aria-labelledby="card-what">
      <h2 id="card-what">What of it</h2>
      <CardShots
        v-if="card"
        v-model:ticked="ticked"
        v-model:others="others"
        v-model:names="names"
        :card="card"
        :where="chosen!"
      />
      <p v-else class="quiet">
        {{
          chosen && !unread
            ? "Looking at what is on it …"
            : "All stills that were taken in one go become a shot, in a folder of its own."
        }}
      </p>
    </section>
    <section aria-labelledby="card-to">
      <h2 id="card-to">Where to</h2>
      <template v-if="card">
        <CardTarget
          v-for="(_, at) in targets"
          :key="at"
          v-model="targets[at]"
          :called="card.name"
          :which="targets.length > 1 ? (at ? 'the second copy' : 'the first copy') : 'the copy'"
        />
        <p class="acts">
          <button v-if="targets.length < 2" type="button" class="plain-button" @click="targets.push(undefined)">
            a second copy on another disk …</button
          ><button v-else type="button" class="plain-button" @click="targets.pop()">one copy only</button>
        </p>
        <div class="act">
          <Button
            :label="`Copy and prove ${countText(wanted.files, 'file')}`"
            class="main-action"
            :disabled="!isWhole"
            @click="copy"
          />
          <span class="quiet">{{ bytesText(wanted.bytes * targets.length) }}</span>
        </div>
        <p class="quiet">
          Every file is read back from the disk and compared. Beside the stills lies a list of hashes that sha256sum can
          check. Take the card out whenever you like: it goes on once the card is back.
        </p>
      </template>
      <p v-else class="quiet">To one disk or two: a folder of a location, or of a disk that is plugged in.</p>
      <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    </section>
  </main>
</template>

<style scoped>
.card {
  display: grid;
  grid-template-columns: minmax(280px, 1fr) minmax(0, 1.5fr) minmax(280px, 1fr);
  min-height: 0;
}

section {
  align-content: start;
  border-right: 1px solid var(--hair);
  display: grid;
  gap: 0.9rem;
  min-height: 0;
  overflow: auto;
  padding: 1.4rem 1.2rem;
}

section:last-child {
  border-right: 0;
}

.act {
  align-items: center;
  display: flex;
  gap: 0.9rem;
}

.act .p-button {
  flex: none;
}
</style>
