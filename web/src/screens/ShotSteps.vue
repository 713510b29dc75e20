<script setup lang="ts">
import { computed, onMounted, ref } from "vue";
import { useRouter } from "vue-router";

import BriefLine from "../brief/BriefLine.vue";
import { onKey, onUndo } from "../keys/keys";
import ShotStage from "../stage/ShotStage.vue";
import { useShot } from "../stores/shot";
import { steps, type Step } from "../stores/steps";
import ShotTail from "../tail/ShotTail.vue";
import { every, ofEach, sheets } from "./everyStep";

const props = defineProps<{ step: Step }>();

const stages = ofEach((one) => one.stage());
const tails = ofEach((one) => one.tail());
const shot = useShot();
const router = useRouter();
const own = computed(() => every[props.step]);
const open = ref<{ mainAction?: () => void }>();

// Every step can be opened at once, and while the program does not answer.
onMounted(() => Object.values(every).forEach((one) => void one.load().catch(() => undefined)));

onUndo(
  () => void shot.undo(),
  () => void shot.redo(),
);

onKey((event) => {
  // Two clips that are compared have frames of their own to step through.
  if (shot.compared && props.step === "encode") return false;
  const stride = event.shiftKey ? 10 : 1;
  switch (event.key) {
    case "ArrowUp":
      shot.goTo(shot.current - stride);
      return true;
    case "ArrowDown":
      shot.goTo(shot.current + stride);
      return true;
    case "Home":
      shot.goTo(0);
      return true;
    case "End":
      shot.goTo(shot.count - 1);
      return true;
    case "x":
    case "X":
      void shot.toggleAside();
      return true;
    case "[":
      shot.choose(shot.current, Math.max(shot.current, shot.stretch?.last ?? shot.count - 1));
      return true;
    case "]":
      shot.choose(Math.min(shot.current, shot.stretch?.first ?? 0), shot.current);
      return true;
    case "Escape": {
      const had = shot.stretch !== undefined;
      shot.stretch = undefined;
      return had;
    }
    case "Enter":
      open.value?.mainAction?.();
      return open.value?.mainAction !== undefined;
    default: {
      const step = steps[Number(event.key) - 1];
      if (!step) return false;
      void router.push({ name: "shot", params: { shot: shot.shot!.id, step } });
      return true;
    }
  }
});
</script>

<template>
  <main v-if="shot.shot" class="shot">
    <h1 class="for-listening">{{ shot.shot.name }}: {{ step }}</h1>
    <BriefLine />
    <div class="body" :style="{ '--sheet': `${own.width}px`, '--tail': `${own.tailWidth ?? 172}px` }">
      <ShotTail :own="tails[step]" />
      <section class="sheet" :aria-label="`Sheet: ${step}`">
        <p v-if="shot.shot.notice" class="notice look" role="status">{{ shot.shot.notice }}</p>
        <component :is="sheets[step]" ref="open" />
      </section>
      <ShotStage :own="stages[step]" />
    </div>
  </main>
</template>

<style scoped>
.shot {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}

.body {
  display: grid;
  grid-template-columns: var(--tail) var(--sheet) minmax(0, 1fr);
  grid-template-rows: minmax(0, 1fr);
  min-height: 0;
}

.sheet {
  border-right: 1px solid var(--hair);
  min-height: 0;
  overflow: auto;
  /* What has the focus is not hidden by what stays at the foot. */
  scroll-padding-bottom: 4.5rem;
}

.notice {
  margin: 0.8rem 1rem 0;
}
</style>
