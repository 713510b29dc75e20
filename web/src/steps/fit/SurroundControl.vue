<script setup lang="ts">
import { computed } from "vue";

import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import type { Fit } from "../../api/client";

const shot = useShot();
const frames = useFrames();
const surround = computed(() => shot.decisions!.fit.surround);

function change(part: Partial<Fit["surround"]>): void {
  void shot.decide({ fit: { surround: { ...surround.value, ...part } } });
}

function pick(): void {
  frames.mode = "around";
  frames.under = "still";
  frames.drawing = frames.drawing === "colour" ? undefined : "colour";
}
</script>

<template>
  <fieldset class="surround">
    <legend>What is around it</legend>
    <label>
      <input type="radio" name="surround" :checked="surround.kind === 'colour'" @change="change({ kind: 'colour' })" />
      one colour
      <input
        type="color"
        :value="surround.colour"
        aria-label="Colour around the picture in the clip"
        @change="change({ kind: 'colour', colour: ($event.target as HTMLInputElement).value })"
      />
      <code>{{ surround.colour }}</code>
    </label>
    <button type="button" class="plain-button" :aria-pressed="frames.drawing === 'colour'" @click="pick">
      {{ frames.drawing === "colour" ? "click the colour in the picture" : "take it from the picture" }}
    </button>
    <label>
      <input
        type="radio"
        name="surround"
        :checked="surround.kind === 'blurred'"
        @change="change({ kind: 'blurred' })"
      />
      the same picture, enlarged and blurred
    </label>
  </fieldset>
</template>

<style scoped>
.surround {
  border: 0;
  display: grid;
  gap: 0.3rem;
  margin: 0;
  padding: 0;
}

legend {
  margin-bottom: 0.2rem;
  padding: 0;
}

label {
  align-items: center;
  display: flex;
  gap: 0.45rem;
}

input[type="color"] {
  background: none;
  border: 1px solid var(--soft-ink);
  border-radius: var(--round);
  height: 1.6rem;
  padding: 1px;
  width: 2.4rem;
}

button {
  color: var(--line);
  justify-self: start;
  margin-left: 1.2rem;
}

button[aria-pressed="true"] {
  background: var(--saffron-pale);
  color: var(--saffron-ink);
}
</style>
