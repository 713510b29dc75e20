<script setup lang="ts">
import Button from "primevue/button";
import InputText from "primevue/inputtext";
import Popover from "primevue/popover";
import { computed, ref } from "vue";

import { addresses, api, saveAs, type Preset } from "../api/client";
import { useRead } from "../api/queries";
import { useShot } from "../stores/shot";
import { useAttempt } from "../parts/sentences";

const shot = useShot();
const { refusal, attempt } = useAttempt();
const panel = ref<InstanceType<typeof Popover>>();
const file = ref<HTMLInputElement>();
const name = ref("");
const light = ref(false);
const steadying = ref(false);
const isAnchored = computed(() => shot.decisions?.move.steady.how === "anchor");
const isOpen = ref(false);
const {
  answer: presets,
  refusal: unread,
  show,
} = useRead(() => ({
  key: ["presets"],
  query: api.presets,
  wanted: isOpen.value,
}));

function toggle(event: Event): void {
  panel.value?.toggle(event);
}

function apply(preset: Preset): void {
  panel.value?.hide();
  void shot.change((id, seen) => api.applyPreset(id, seen, preset.id));
}

const keep = () =>
  attempt(async () => {
    const also = { light: light.value, steadying: steadying.value && !isAnchored.value };
    show(await api.keepPreset(shot.shot!.id, { name: name.value.trim(), ...also }));
    name.value = "";
  });
const remove = (preset: Preset) => attempt(async () => show(await api.deletePreset(preset.id)));
const read = () =>
  attempt(async () => {
    const chosen = file.value?.files?.[0];
    if (chosen) show(await api.importPresets(await chosen.text()));
    if (file.value) file.value.value = "";
  });

function words({ preset }: Preset): string {
  const hold = preset.hold === 1 ? "" : `, ${preset.hold} frames each`;
  const also = `${preset.light ? ", light" : ""}${preset.steady ? ", steadying" : ""}`;
  return `${preset.size.width} × ${preset.size.height}, ${preset.rate} fps${hold}${also}`;
}
</script>

<template>
  <button
    type="button"
    class="plain-button"
    title="Size, rate, hold and format, light and steadying on wish, kept under a name for other shots"
    @click="toggle"
  >
    presets ▾
  </button>
  <Popover ref="panel" @show="isOpen = true" @hide="isOpen = false">
    <div class="panel">
      <h3>Presets</h3>
      <p class="quiet">Size, rate, hold and format under a name, for any shot; light and steadying on wish.</p>
      <ul v-if="presets?.length">
        <li v-for="one in presets" :key="one.id">
          <button type="button" class="plain-button name" @click="apply(one)">
            {{ one.preset.name }} <span class="quiet number">{{ words(one) }}</span>
          </button>
          <button
            type="button"
            class="plain-button quiet"
            :aria-label="`Forget ${one.preset.name}`"
            @click="remove(one)"
          >
            forget
          </button>
        </li>
      </ul>
      <form @submit.prevent="keep">
        <InputText v-model="name" placeholder="a name" aria-label="Name of the preset" maxlength="60" fluid />
        <Button type="submit" label="Keep as it is now" severity="secondary" :disabled="!name.trim()" />
        <p class="also">
          <label><input v-model="light" type="checkbox" /> its light</label>
          <label :title="isAnchored ? 'A point is anchored in the stills of this shot alone.' : ''"
            ><input v-model="steadying" type="checkbox" :disabled="isAnchored" /> how it is steadied</label
          >
        </p>
      </form>
      <p>
        <button
          v-if="presets?.length"
          type="button"
          class="plain-button act"
          @click="saveAs('presets.json', addresses.presets)"
        >
          save all as a file
        </button>
        <button type="button" class="plain-button act" @click="file?.click()">read a file</button>
        <input
          ref="file"
          type="file"
          accept="application/json,.json"
          aria-label="File of presets"
          hidden
          @change="read"
        />
      </p>
      <p v-if="refusal || unread" class="warning" role="alert">{{ refusal || unread }}</p>
    </div>
  </Popover>
</template>

<style scoped src="./menu.css"></style>

<style scoped>
.also {
  display: flex;
  gap: 1.1rem;
  grid-column: 1 / -1;
}

.also label {
  align-items: center;
  display: flex;
  gap: 0.4rem;
}
</style>
