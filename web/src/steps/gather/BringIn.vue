<script setup lang="ts">
import { useRouter } from "vue-router";

import type { ShotStarted } from "../../api/client";
import FolderPicker from "./FolderPicker.vue";
import UploadArea from "../../files/UploadArea.vue";

defineProps<{ projectId: number; first: boolean }>();
const emit = defineEmits<{ several: [] }>();

const router = useRouter();

/** One shot is gone on with; of several the project shows the list. */
function open(started: ShotStarted[]): void {
  const [only] = started;
  if (started.length === 1) void router.push({ name: "shot", params: { shot: only!.shot_id, step: "gather" } });
  else emit("several");
}
</script>

<template>
  <section class="bring-in" aria-labelledby="bring-in">
    <h2 id="bring-in" tabindex="-1">{{ first ? "Bring in the stills of a shot" : "Bring in another shot" }}</h2>
    <div class="ways">
      <UploadArea :into="projectId" @made="open" />
      <FolderPicker :project-id="projectId" @several="emit('several')" />
    </div>
  </section>
</template>

<style scoped>
.bring-in {
  border-top: 1px solid var(--hair);
  display: grid;
  gap: 0.9rem;
  padding-top: 1.3rem;
}

.acts {
  gap: 0.2rem 1.6rem;
  margin-left: 0;
}

.ways {
  display: grid;
  gap: 1.6rem;
  grid-template-columns: 1fr 1fr;
}
</style>
