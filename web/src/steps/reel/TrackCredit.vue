<script setup lang="ts">
import { computed } from "vue";

import { api, type ProjectSound } from "../../api/client";
import { useSentences } from "../../parts/sentences";
import { nextId, useReel } from "./reel";
import { newTitle } from "./titles";

/** Whose a piece of music is: kept with it, and shown as a title on wish. */
const props = defineProps<{ sound: ProjectSound }>();

/** So many seconds before the end of the reel it appears. */
const seen = 4;

const reel = useReel();
const { refused } = useSentences();
const isShown = computed(() => reel.decisions!.titles.some((one) => one.text === props.sound.credit));

async function keep(credit: string): Promise<void> {
  try {
    const kept = await api.creditSound(props.sound.id, credit);
    reel.sounds = reel.sounds.map((one) => (one.id === kept.id ? kept : one));
  } catch (error) {
    refused(error);
  }
}

function show(): void {
  const last = reel.parts.findLast((part) => part.frames);
  if (!last) return;
  const id = nextId(reel.decisions!.titles);
  const title = {
    ...newTitle(id, "text", last.id, reel.rate),
    ...{ text: props.sound.credit, size: 0.035, first: Math.max(0, last.frames - Math.round(seen * reel.rate)) },
  };
  void reel.decide((now) => ({ titles: [...now.titles, title] }));
}
</script>

<template>
  <label class="field"
    ><span>credit</span
    ><input
      :value="sound.credit"
      maxlength="300"
      placeholder="whose it is, on what terms"
      aria-label="Credit of the music"
      @change="keep(($event.target as HTMLInputElement).value)"
  /></label>
  <p v-if="sound.credit" class="acts">
    <span v-if="isShown" class="quiet">It is one of the titles.</span>
    <button v-else type="button" class="plain-button" @click="show">show it as a title at the end</button>
  </p>
</template>

<style scoped src="./detail.css"></style>
