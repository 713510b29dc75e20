<script setup lang="ts">
import { useRouter } from "vue-router";

import { useReel } from "./reel";
import type { Tab } from "./tabs";

const reel = useReel();
const router = useRouter();
const tabOf: Record<string, Tab> = {
  order: "order",
  titles: "titles",
  sound: "sound",
  size: "finish",
  rate: "finish",
  fades: "finish",
  quality: "finish",
};

function edit(control: string): void {
  void router.push({ name: "reel", params: { reel: reel.reel!.id, tab: tabOf[control] } });
}
</script>

<template>
  <section class="brief" aria-label="What will be made">
    <p v-if="reel.brief" class="sentence">
      <template v-for="(part, index) in reel.brief.parts" :key="index"
        ><button v-if="part.control" type="button" class="part" @click="edit(part.control)">{{ part.text }}</button
        ><span v-else>{{ part.text }}</span></template
      >
    </p>
    <p v-if="reel.refusal" class="warning" role="alert">{{ reel.refusal }}</p>
    <p class="steps-back">
      <button type="button" class="plain-button act" :disabled="!reel.canUndo" title="Ctrl Z" @click="reel.undo()">
        undo
      </button>
      <button
        type="button"
        class="plain-button act"
        :disabled="!reel.canRedo"
        title="Ctrl Shift Z"
        @click="reel.redo()"
      >
        redo
      </button>
    </p>
  </section>
</template>

<style scoped src="../../brief/sentence.css"></style>
<style scoped>
.brief {
  border-bottom: 1px solid var(--hair);
  padding: 0.7rem 1rem 0.75rem;
  position: relative;
}

.sentence {
  padding-right: 7rem;
}

.steps-back {
  bottom: 0.6rem;
  position: absolute;
  right: 0.8rem;
}

.steps-back button:disabled {
  color: var(--soft-ink);
  cursor: default;
  opacity: 0.6;
}
</style>
