<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import { computed, ref } from "vue";

import { addresses, api, saveAs, type Look, type LookPart } from "../../api/client";
import { useRead } from "../../api/queries";
import { useAttempt } from "../../parts/sentences";
import { useShot } from "../../stores/shot";
import { useLight } from "./light";
import FollowPicture from "./FollowPicture.vue";
import SettingField from "./SettingField.vue";

const every: LookPart[] = ["brightness", "colour", "surface", "areas", "even light", "table"];

const shot = useShot();
const light = useLight();
const { refusal, attempt } = useAttempt();
const { answer: looks, refusal: unread, show } = useRead(() => ({ key: ["looks"], query: api.looks }));
const { answer: project } = useRead(() => ({
  key: ["project", shot.shot!.project_id],
  query: () => api.project(shot.shot!.project_id),
}));
const others = computed(() => project.value?.shots.filter((one) => one.id !== shot.shot!.id) ?? []);
const name = ref("");
const parts = ref<LookPart[]>(["brightness", "colour"]);
const source = ref("");
const file = ref<HTMLInputElement>();
const versions = computed(() => shot.versions.filter((one) => one.id !== shot.version));
const table = computed(() => light.light.table);

const apply = (look: Look) => shot.change((id, seen) => api.applyLook(id, seen, look));
const save = () =>
  attempt(async () => {
    await shot.settle();
    show(await api.saveLook(shot.shot!.id, name.value.trim(), parts.value));
    name.value = "";
  });
const remove = (look: Look) => attempt(async () => show(await api.deleteLook(look.id!)));

function copy(): void {
  const [kind, id] = source.value.split(" ");
  const [from, version] = kind === "shot" ? [Number(id), null] : [shot.shot!.id, Number(id)];
  void shot.change((into, seen) => api.copyLight(into, seen, from, version, parts.value));
  source.value = "";
}

async function read(): Promise<void> {
  const chosen = file.value?.files?.[0];
  if (!chosen) return;
  const text = await chosen.text();
  await shot.change((id, seen) => api.addTable(id, seen, chosen.name, text));
  if (file.value) file.value.value = "";
}

function toggle(part: LookPart): void {
  parts.value = parts.value.includes(part) ? parts.value.filter((one) => one !== part) : [...parts.value, part];
}
</script>

<template>
  <section>
    <h2>Looks</h2>
    <p class="quiet words">Begin with one, then pull it further. What a look does not speak of stays as it is.</p>
    <ul class="looks">
      <li v-for="one in looks" :key="`${one.id} ${one.name}`">
        <button type="button" class="look" @click="apply(one)">
          <img
            v-if="light.still"
            :src="addresses.look(shot.shot!.id, light.still, one, shot.revision, 192)"
            alt=""
            loading="lazy"
          />
          <span>{{ one.name }}</span>
        </button>
        <button
          v-if="one.id !== null"
          type="button"
          class="plain-button quiet"
          :aria-label="`forget the look ${one.name}`"
          @click="remove(one)"
        >
          forget
        </button>
      </li>
    </ul>
  </section>
  <FollowPicture />
  <section>
    <h2>Keep, or take over</h2>
    <p class="acts">
      <label v-for="part in every" :key="part" class="check"
        ><input type="checkbox" :checked="parts.includes(part)" @change="toggle(part)" /> {{ part }}</label
      >
    </p>
    <form class="form" @submit.prevent="save">
      <InputText v-model="name" placeholder="a name for it" aria-label="Name of the look" maxlength="60" fluid />
      <Button type="submit" label="Keep as a look" severity="secondary" :disabled="!name.trim() || !parts.length" />
    </form>
    <form v-if="others.length || versions.length" class="form" @submit.prevent="copy">
      <select v-model="source" aria-label="The shot or version to take light from">
        <option value="">take it from …</option>
        <option v-for="one in versions" :key="`v${one.id}`" :value="`version ${one.id}`">
          version “{{ one.name }}”
        </option>
        <option v-for="one in others" :key="`s${one.id}`" :value="`shot ${one.id}`">shot “{{ one.name }}”</option>
      </select>
      <Button type="submit" label="Take over" severity="secondary" :disabled="!source || !parts.length" />
    </form>
  </section>
  <section>
    <h2>Table of colours</h2>
    <template v-if="table">
      <p class="words">“{{ table.name }}” is applied last.</p>
      <SettingField name="table.strength" label="how far" :min="0" :max="1" :step="0.05" :places="2" whole />
    </template>
    <p class="acts">
      <button type="button" class="plain-button act" @click="file?.click()">read a .cube file</button>
      <button v-if="table" type="button" class="plain-button act" @click="light.set('table', null, '')">
        without it
      </button>
      <button
        v-if="light.still"
        type="button"
        class="plain-button act"
        @click="saveAs(`${shot.shot!.name}.cube`, addresses.cube(shot.shot!.id, light.still, shot.revision))"
      >
        write this light as .cube
      </button>
      <input
        ref="file"
        type="file"
        accept=".cube,.CUBE"
        aria-label="File of a table of colours"
        hidden
        @change="read"
      />
    </p>
    <p v-if="refusal || unread || shot.refusal" class="warning" role="alert">{{ refusal || unread || shot.refusal }}</p>
  </section>
</template>

<style scoped>
.looks {
  display: grid;
  gap: 0.5rem;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  list-style: none;
  margin: 0;
  padding: 0;
}

.looks li {
  display: grid;
  justify-items: start;
}

.look {
  background: none;
  border: 1px solid var(--hair);
  color: inherit;
  cursor: pointer;
  display: grid;
  font: inherit;
  padding: 0;
  text-align: left;
  width: 100%;
}

.look:hover,
.look:focus-visible {
  border-color: var(--line);
}

.look img {
  aspect-ratio: 16 / 9;
  display: block;
  object-fit: cover;
  width: 100%;
}

.look span {
  padding: 0.1rem 0.4rem;
}

.form {
  display: grid;
  gap: 0.5rem;
  grid-template-columns: minmax(0, 1fr) auto;
}
</style>
