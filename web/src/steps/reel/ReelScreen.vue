<script setup lang="ts">
import { computed, ref, watch, type Component } from "vue";
import { useRouter } from "vue-router";

import { Problem } from "../../api/client";
import { onKey, onUndo } from "../../keys/keys";
import { useHead } from "../../stores/head";
import FinishSheet from "./FinishSheet.vue";
import OrderSheet from "./OrderSheet.vue";
import ReelBrief from "./ReelBrief.vue";
import ReelStage from "./ReelStage.vue";
import ReelTail from "./ReelTail.vue";
import SoundSheet from "./SoundSheet.vue";
import TitlesSheet from "./TitlesSheet.vue";
import { useReel } from "./reel";
import { tabs, tabWords, type Tab } from "./tabs";

const props = defineProps<{ reelId: number; tab: Tab }>();

const sheets: Record<Tab, Component> = {
  order: OrderSheet,
  titles: TitlesSheet,
  sound: SoundSheet,
  finish: FinishSheet,
};
const reel = useReel();
const router = useRouter();
const refusal = ref("");
const open = ref<{ mainAction?: () => void }>();
const sheet = computed(() => sheets[props.tab]);

useHead(
  () =>
    reel.reel && {
      project: { id: reel.reel.project_id, name: reel.reel.project_name },
      inside: reel.reel.name,
      tabs: tabs.map((name) => ({
        words: tabWords[name],
        to: { name: "reel", params: { reel: reel.reel!.id, tab: name } },
        isOpen: name === props.tab,
        isToLookAt: reel.toLookAt[name],
      })),
      tabsAre: "Tabs of the reel",
    },
);
watch(
  () => props.reelId,
  async (id) => {
    refusal.value = "";
    try {
      await reel.open(id);
    } catch (error) {
      refusal.value = error instanceof Problem ? error.message : String(error);
    }
  },
  { immediate: true },
);

onUndo(
  () => void reel.undo(),
  () => void reel.redo(),
);

onKey((event) => {
  // Two files that are compared have frames of their own to step through.
  if (reel.compared && props.tab === "finish") return false;
  const second = Math.max(1, Math.round(reel.rate));
  switch (event.key) {
    case "ArrowLeft":
    case "ArrowUp":
      reel.step(event.shiftKey ? -second : -1);
      return true;
    case "ArrowRight":
    case "ArrowDown":
      reel.step(event.shiftKey ? second : 1);
      return true;
    case "Home":
      reel.goTo(0);
      return true;
    case "End":
      reel.goTo(reel.frames - 1);
      return true;
    case " ":
      reel.toggle();
      return true;
    case "Enter":
      open.value?.mainAction?.();
      return open.value?.mainAction !== undefined;
    default: {
      const tab = tabs[Number(event.key) - 1];
      if (!tab) return false;
      void router.push({ name: "reel", params: { reel: props.reelId, tab } });
      return true;
    }
  }
});
</script>

<template>
  <p v-if="refusal" class="refusal look" role="alert">{{ refusal }}</p>
  <main v-else-if="reel.reel && reel.decisions" class="reel">
    <h1 class="for-listening">{{ reel.reel.name }}: {{ tabWords[tab] }}</h1>
    <ReelBrief />
    <div
      class="body"
      :style="{
        '--curves': `${Math.min(6, reel.decisions.sound.tracks.length) * 22}px`,
        '--sheet': tab === 'finish' ? '540px' : '400px',
      }"
    >
      <ReelTail />
      <section class="sheet" :aria-label="`Sheet: ${tabWords[tab]}`">
        <!-- What is decided next is saved anew: then nothing is passed over any more. -->
        <p v-if="reel.reel.notice && reel.revision === reel.reel.revision" class="notice look" role="status">
          {{ reel.reel.notice }}
        </p>
        <component :is="sheet" ref="open" />
      </section>
      <ReelStage :tab="tab" />
    </div>
  </main>
  <p v-else class="refusal quiet">Opening the reel …</p>
</template>

<style scoped>
.reel {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}

.body {
  display: grid;
  grid-template-columns: calc(150px + var(--curves)) var(--sheet) minmax(0, 1fr);
  grid-template-rows: minmax(0, 1fr);
  min-height: 0;
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
