<script setup lang="ts">
import { ref } from "vue";

import { addresses, api, saveAs } from "../../api/client";
import { useAttempt } from "../../parts/sentences";
import { countText } from "../../parts/wording";
import { useShot } from "../../stores/shot";

const shot = useShot();
const { refusal, attempt } = useAttempt();
const said = ref("");
const picker = ref<HTMLInputElement>();

function save(format: "csv" | "otio"): void {
  saveAs(`${shot.shot!.name}.${format}`, addresses.list(shot.shot!.id, format));
}

function open(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  return attempt(async () => {
    said.value = "";
    if (!file) return;
    const format = file.name.toLowerCase().endsWith(".otio") ? "otio" : "csv";
    const opened = await api.openList(shot.shot!.id, shot.revision, format, await file.text());
    await shot.open(shot.shot!.id);
    const unknown = opened.unknown.length ? ` Not in this shot: ${opened.unknown.slice(0, 3).join(", ")} …` : "";
    said.value = `${countText(opened.placed, "still")} in the order of the list, ${opened.aside.toLocaleString("en")} set aside.${unknown}`;
    input.value = "";
  });
}
</script>

<template>
  <p class="exchange">
    Shot list:
    <button type="button" class="plain-button" @click="save('csv')">save as CSV</button>
    <button type="button" class="plain-button" @click="save('otio')">save as OpenTimelineIO</button>
    <button type="button" class="plain-button" @click="picker?.click()">open …</button>
    <input ref="picker" type="file" accept=".csv,.otio" hidden aria-label="A shot list" @change="open" />
    <span v-if="refusal" class="warning" role="alert">{{ refusal }}</span>
    <span v-else-if="said" role="status">{{ said }}</span>
  </p>
</template>

<style scoped>
.exchange {
  color: var(--soft-ink);
}

button {
  color: var(--line);
}

span {
  display: block;
}
</style>
