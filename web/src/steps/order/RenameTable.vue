<script setup lang="ts">
import { useDebounceFn } from "@vueuse/core";
import Button from "primevue/button";
import Dialog from "primevue/dialog";
import VirtualScroller from "primevue/virtualscroller";
import { computed, ref, shallowRef, watch } from "vue";
import { useRoute } from "vue-router";

import {
  api,
  saveAs,
  type ExportList,
  type LastRename,
  type RenameLine,
  type RenameTableRows,
  type Writing,
} from "../../api/client";
import { newest } from "../../api/newest";
import JobLine from "../../queue/JobLine.vue";
import { useAttempt } from "../../parts/sentences";
import { useJobs } from "../../queue/jobs";
import { useShot } from "../../stores/shot";
import NamedPatterns from "./NamedPatterns.vue";
import PatternEditor from "../../parts/PatternEditor.vue";
import WriteInto from "./WriteInto.vue";
import { plainPattern } from "../../parts/pattern";

const ways = { place: "in their folder", files: "as copies", pictures: "as pictures" } as const;

const shot = useShot();
const jobs = useJobs();
const parts = ref(plainPattern());
const withAside = ref(true);
const way = ref<keyof typeof ways>(useRoute().query.part === "pictures" ? "pictures" : "place");
const pictures = ref<Writing>({ what: "fitted", format: "JPEG", quality: 95 });
const table = shallowRef<RenameTableRows>();
const exported = shallowRef<ExportList>();
const last = shallowRef<LastRename | null>(null);
const { refusal, attempt } = useAttempt();
const [said, asking] = [ref(""), ref(false)];
const id = computed(() => shot.shot!.id);
const writing = computed<Writing>(() =>
  way.value === "files" ? { what: "files", format: "JPEG", quality: 95 } : pictures.value,
);
const lines = computed(() => (way.value === "place" ? table.value?.lines : exported.value?.lines));
const wrong = computed(() => lines.value?.find((line) => line.problem));
const ready = computed(() => table.value && !table.value.problems && table.value.changes > 0);
const job = computed(() => jobs.latest(id.value, "export"));

const ask = newest(
  async () => {
    if (way.value !== "place") return { exported: await api.exportList(id.value, parts.value, writing.value) };
    const [named, before] = await Promise.all([
      api.renameTable(id.value, parts.value, withAside.value),
      api.lastRename(id.value),
    ]);
    return { named, before };
  },
  (found) => {
    if (found.exported) exported.value = found.exported;
    else [table.value, last.value] = [found.named, found.before];
  },
);
const look = useDebounceFn(() => attempt(ask), 150);

function rename(): Promise<void> {
  asking.value = false;
  return attempt(async () => {
    const done = await api.rename(id.value, parts.value, withAside.value, table.value!.table);
    said.value = `${done.files.toLocaleString("en")} files have their new names.`;
    await Promise.all([shot.open(id.value), look()]);
  });
}

function takeBack(): Promise<void> {
  return attempt(async () => {
    const done = await api.undoRename(id.value);
    said.value = `${done.files.toLocaleString("en")} files have their old names again.`;
    await Promise.all([shot.open(id.value), look()]);
  });
}

function save(): Promise<void> {
  return attempt(async () =>
    saveAs(`${shot.shot!.name} names.csv`, await api.namesAsCsv(id.value, parts.value, withAside.value)),
  );
}

watch([parts, withAside, way, pictures], () => void look(), { deep: true });
void look();
</script>

<template>
  <div class="rename">
    <section class="head">
      <PatternEditor v-model="parts" />
      <NamedPatterns v-model="parts" />
      <div class="ways" role="radiogroup" aria-label="How the new names are given">
        Give the names
        <label v-for="(words, name) in ways" :key="name" :class="{ chosen: way === name }">
          <input v-model="way" type="radio" name="way" :value="name" />{{ words }}
        </label>
      </div>
      <label v-if="way === 'place' && shot.aside.size" class="with-aside">
        <input v-model="withAside" type="checkbox" /> also the {{ shot.aside.size.toLocaleString("en") }} set aside
      </label>
      <WriteInto v-if="way !== 'place'" v-model="pictures" :parts="parts" :files="exported" :writing="writing" />
      <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
      <p v-else-if="wrong" class="warning">“{{ wrong.old }}” cannot become “{{ wrong.new }}”. {{ wrong.problem }}</p>
      <p v-else-if="said" role="status">{{ said }}</p>
      <JobLine v-if="way !== 'place' && job" :job="job" />
      <div v-if="table && way === 'place'" class="actions">
        <Button
          :label="
            table.problems
              ? `${table.problems.toLocaleString('en')} names cannot be`
              : `Rename ${table.changes.toLocaleString('en')} files …`
          "
          class="main-action"
          :disabled="!ready"
          @click="asking = true"
        />
        <Button
          v-if="last"
          :label="`Take back the last ${last.files.toLocaleString('en')}`"
          severity="secondary"
          @click="takeBack"
        />
        <button type="button" class="plain-button link" @click="save">Save the table as CSV</button>
      </div>
    </section>
    <VirtualScroller v-if="lines" :items="lines" :item-size="30" class="lines">
      <template #item="{ item }: { item: RenameLine }">
        <button
          type="button"
          tabindex="-1"
          class="line"
          :class="{ follows: item.still == null, now: item.still === shot.current }"
          :title="item.problem || item.warning || undefined"
          @click="item.still != null && shot.goTo(item.still)"
        >
          <span class="number">{{ item.old }}</span>
          <span aria-hidden="true">→</span>
          <span class="number" :class="{ wrong: item.problem }">{{ item.new }}</span>
          <span v-if="item.problem || item.warning" class="why look">{{ item.problem || item.warning }}</span>
        </button>
      </template>
    </VirtualScroller>
    <Dialog v-model:visible="asking" modal header="Rename the files in their folder?" :style="{ width: '30rem' }">
      <p>
        {{ table?.changes.toLocaleString("en") }} files in <span class="path">{{ shot.shot!.folder }}</span> get the
        names in the table. Their pictures are not touched, and the old names can be taken back.
      </p>
      <template #footer>
        <Button label="Leave them" severity="secondary" @click="asking = false" />
        <Button label="Rename them" class="main-action" autofocus @click="rename" />
      </template>
    </Dialog>
  </div>
</template>

<style scoped>
.rename {
  display: grid;
  grid-row: 2 / -1;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}

.head {
  border-bottom: 1px solid var(--hair);
  display: grid;
  gap: 0.8rem;
  padding: 1rem 1.1rem;
}

.actions {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 0.7rem;
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 0.2rem 1.1rem;
}

.ways label {
  align-items: center;
  cursor: pointer;
  display: flex;
  gap: 0.3rem;
}

.ways label.chosen {
  font-weight: 700;
}

.link {
  color: var(--line);
}

.line {
  align-items: center;
  background: none;
  border: 0;
  border-left: 3px solid transparent;
  color: inherit;
  cursor: pointer;
  display: grid;
  font-family: var(--text);
  font-size: var(--type-small);
  gap: 0.6rem;
  grid-template-columns: minmax(0, 9.5rem) auto minmax(0, 11rem) minmax(0, 1fr);
  height: 30px;
  padding: 0 0.8rem;
  text-align: left;
  white-space: nowrap;
  width: 100%;
}

.line span {
  overflow: hidden;
  text-overflow: ellipsis;
}

.line:hover {
  background: var(--shade);
}

.line.now {
  background: var(--line-pale);
  border-left-color: var(--line);
}

.line.follows span:first-child {
  color: var(--soft-ink);
  padding-left: 1rem;
}

.wrong {
  text-decoration: underline wavy var(--kite);
}

.path {
  overflow-wrap: anywhere;
}
</style>
