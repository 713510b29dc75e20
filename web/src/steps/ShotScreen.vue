<script setup lang="ts">
import { computed, ref, watch, type Component } from "vue";
import { useRouter } from "vue-router";

import { Problem } from "../api/client";
import { onKey, onUndo } from "../keys/keys";
import BriefLine from "../brief/BriefLine.vue";
import ShotStage from "../stage/ShotStage.vue";
import ShotTail from "../tail/ShotTail.vue";
import { useShot } from "../stores/shot";
import CheckSheet from "./check/CheckSheet.vue";
import EncodeSheet from "./encode/EncodeSheet.vue";
import FitSheet from "./fit/FitSheet.vue";
import GatherSheet from "./gather/GatherSheet.vue";
import LightSheet from "./light/LightSheet.vue";
import MoveSheet from "./move/MoveSheet.vue";
import OrderSheet from "./order/OrderSheet.vue";
import PaceSheet from "./pace/PaceSheet.vue";
import { steps, type Step } from "./steps";

const props = defineProps<{ shotId: number; step: Step }>();

const sheets: Record<Step, { component: Component; width: string }> = {
  gather: { component: GatherSheet, width: "420px" },
  order: { component: OrderSheet, width: "540px" },
  check: { component: CheckSheet, width: "430px" },
  light: { component: LightSheet, width: "360px" },
  fit: { component: FitSheet, width: "360px" },
  move: { component: MoveSheet, width: "360px" },
  pace: { component: PaceSheet, width: "360px" },
  encode: { component: EncodeSheet, width: "540px" },
};

const shot = useShot();
const router = useRouter();
const refusal = ref("");
const sheet = computed(() => sheets[props.step]);
const open = ref<{ mainAction?: () => void }>();

watch(
  () => props.shotId,
  async (id) => {
    refusal.value = "";
    try {
      await shot.open(id);
    } catch (error) {
      refusal.value = error instanceof Problem ? error.message : String(error);
    }
  },
  { immediate: true },
);

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
      void router.push({ name: "shot", params: { shot: props.shotId, step } });
      return true;
    }
  }
});
</script>

<template>
  <p v-if="refusal" class="refusal look" role="alert">{{ refusal }}</p>
  <main v-else-if="shot.shot && shot.decisions" class="shot">
    <h1 class="for-listening">{{ shot.shot.name }}: {{ step }}</h1>
    <BriefLine />
    <div class="body" :class="{ plots: step === 'check', seconds: step === 'pace' }" :style="{ '--sheet': sheet.width }">
      <ShotTail :step="step" />
      <section class="sheet" :aria-label="`Sheet: ${step}`">
        <p v-if="shot.shot.notice" class="notice look" role="status">{{ shot.shot.notice }}</p>
        <component :is="sheet.component" ref="open" />
      </section>
      <ShotStage :step="step" />
    </div>
  </main>
  <p v-else class="refusal quiet">Opening the shot …</p>
</template>

<style scoped>
.shot {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}

.body {
  display: grid;
  grid-template-columns: 172px var(--sheet) minmax(0, 1fr);
  grid-template-rows: minmax(0, 1fr);
  min-height: 0;
}

.body.seconds {
  grid-template-columns: 196px var(--sheet) minmax(0, 1fr);
}

.body.plots {
  grid-template-columns: 230px var(--sheet) minmax(0, 1fr);
}

.sheet {
  border-right: 1px solid var(--hair);
  min-height: 0;
  overflow: auto;
}

.notice {
  margin: 0.8rem 1rem 0;
}

.refusal {
  padding: 2rem;
}
</style>
