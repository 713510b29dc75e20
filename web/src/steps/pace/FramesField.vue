<script setup lang="ts">
import InputText from "primevue/inputtext";
import { ref, watch } from "vue";

import { api } from "../../api/client";
import { useAttempt } from "../../parts/sentences";
import { useShot } from "../../stores/shot";

/** A duration typed as frames (3) or as seconds (0.5 s); it is kept in frames, and rounding is said. */
const props = defineProps<{ label: string; frames: number | null; empty?: string }>();
const emit = defineEmits<{ change: [frames: number | null] }>();

const shot = useShot();
const { refusal, attempt } = useAttempt();
const text = ref("");
const rounding = ref("");

watch(
  () => props.frames,
  (frames) => (text.value = frames === null ? "" : `${frames} ${frames === 1 ? "frame" : "frames"}`),
  { immediate: true },
);

async function keep(): Promise<void> {
  rounding.value = "";
  if (!text.value.trim() && props.empty !== undefined) {
    if (props.frames !== null) emit("change", null);
    return;
  }
  await attempt(async () => {
    const read = await api.frames(shot.shot!.id, text.value, shot.decisions!.pace.rate);
    rounding.value = read.sentence;
    text.value = `${read.frames} ${read.frames === 1 ? "frame" : "frames"}`;
    if (read.frames !== props.frames) emit("change", read.frames);
  });
}
</script>

<template>
  <div class="frames-field">
    <label>
      <span>{{ label }}</span>
      <InputText
        v-model="text"
        class="number"
        :placeholder="empty"
        maxlength="40"
        fluid
        @change="keep"
        @keydown.enter="keep"
      />
    </label>
    <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
    <p v-else-if="rounding" class="quiet" role="status">{{ rounding }}</p>
  </div>
</template>

<style scoped>
label {
  align-items: center;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: minmax(0, 1fr) 9rem;
}

p {
  font-size: var(--type-near);
  padding-top: 0.2rem;
}
</style>
