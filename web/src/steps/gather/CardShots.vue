<script setup lang="ts">
import { computed, ref } from "vue";

import { api, type Card, type CardNames, type CardShot } from "../../api/client";
import { useRead } from "../../api/queries";
import { bytesText, countText } from "../../parts/wording";
import PatternEditor from "../../parts/PatternEditor.vue";
import { plainPattern } from "../../parts/pattern";

/** What is on a card: its shots, each with the folder it goes to, what else there is, and the names all get. */
const props = defineProps<{ card: Card; where: { location: string; path: string } }>();
const ticked = defineModel<number[]>("ticked", { required: true });
const others = defineModel<boolean>("others", { required: true });
const names = defineModel<CardNames>("names", { required: true });

const renames = ref(false);
const folders = computed({
  get: () => names.value.folders as Card["folders"],
  set: (parts) => (names.value = { ...names.value, folders: parts }),
});
const stills = computed({
  get: () => (names.value.stills ?? []) as Card["folders"],
  set: (parts) => (names.value = { ...names.value, stills: parts }),
});
const { answer: called, refusal } = useRead(() => ({
  key: ["card", props.where.location, props.where.path, "names", JSON.stringify(names.value)],
  query: () => api.cardNames(props.where.location, props.where.path, names.value),
  wanted: props.card.shots.length > 0 && names.value.folders.length > 0,
  gcTime: 0,
}));

function rename(wanted: boolean): void {
  renames.value = wanted;
  names.value = { ...names.value, stills: wanted ? plainPattern() : null };
}

function when(shot: CardShot): string {
  if (!shot.taken || !shot.until) return "no time known";
  const [begins, ends] = [shot.taken, shot.until].map((one) => one.slice(0, 16).replace("T", ", ")) as [string, string];
  if (begins === ends) return begins;
  return `${begins} to ${begins.slice(0, 10) === ends.slice(0, 10) ? ends.slice(12) : ends}`;
}

function file(path: string): string {
  return path.slice(path.lastIndexOf("/") + 1);
}
</script>

<template>
  <ul class="shots" aria-label="Shots on the card">
    <li v-for="(shot, at) in card.shots" :key="shot.first">
      <label>
        <input v-model="ticked" type="checkbox" :value="at" />
        <span>
          <strong>{{ countText(shot.stills, "still") }}</strong> <span class="quiet">{{ bytesText(shot.bytes) }}</span>
          <br />{{ when(shot) }}<template v-if="shot.camera">, {{ shot.camera }}</template> <br /><span class="number"
            >{{ file(shot.first) }} … {{ file(shot.last) }}</span
          >
          <br />
          <span v-if="called?.[at]" class="number quiet"
            >→ {{ called[at].folder }}/{{ called[at].first }} … {{ called[at].last }}</span
          ><span v-else class="number quiet">→ …</span>
        </span>
      </label>
    </li>
    <li v-if="card.others">
      <label>
        <input v-model="others" type="checkbox" />
        <span>
          <strong>{{ countText(card.others, card.shots.length ? "other file" : "file") }}</strong>
          {{ " " }}<span class="quiet">{{ bytesText(card.others_bytes) }}</span> <br />single pictures, film, sound: in
          the folders they lie in <br /><span class="number quiet">→ other-files/…</span>
        </span>
      </label>
    </li>
  </ul>
  <p v-for="one in card.left" :key="one" class="warning">{{ one }} It stays on the card.</p>
  <template v-if="card.shots.length">
    <h3>Folders are called</h3>
    <PatternEditor v-model="folders" names="The name of a folder" :without="['shot', 'name', 'number']" />
    <h3>Stills</h3>
    <div class="choice">
      <label
        ><input type="radio" name="still-names" :checked="!renames" @change="rename(false)" /> keep their names</label
      >
      <label><input type="radio" name="still-names" :checked="renames" @change="rename(true)" /> are called</label>
    </div>
    <PatternEditor v-if="renames" v-model="stills" />
  </template>
  <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
</template>

<style scoped>
.shots {
  display: grid;
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  border-top: 1px solid var(--hair);
  padding: 0.6rem 0;
}

label {
  cursor: pointer;
  display: grid;
  gap: 0.7rem;
  grid-template-columns: auto minmax(0, 1fr);
}

li .number {
  overflow-wrap: anywhere;
}

.choice {
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 1.2rem;
}

.choice label {
  gap: 0.4rem;
}
</style>
