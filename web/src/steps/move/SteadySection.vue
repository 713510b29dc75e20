<script setup lang="ts">
import { computed } from "vue";

import { api } from "../../api/client";
import EdgesSection from "./EdgesSection.vue";
import GlideSection from "./GlideSection.vue";
import AnchorSection from "./AnchorSection.vue";
import StillSection from "./StillSection.vue";
import TradeOffs from "./TradeOffs.vue";
import { useSteady, type Steady } from "./steady";

const steady = useSteady();
const ways: { how: Steady["how"]; words: string; says: string }[] = [
  { how: "off", words: "as shot", says: "Stills lie as they were shot." },
  {
    how: "still",
    words: "stand still",
    says: "A tripod in wind, on a bridge, with a knock: nothing but the scene moves.",
  },
  {
    how: "glide",
    words: "glide",
    says: "Carried by hand, or step by step while walking: the way stays, the unrest goes.",
  },
  {
    how: "anchor",
    words: "anchor a point",
    says: "A spire, a door, a mast stays where it is, while all around it moves.",
  },
];
const now = computed(() => steady.steady);
const found = computed(() => steady.found);
const says = computed(() => ways.find((one) => one.how === now.value.how)!.says);

const cancel = () => steady.job && api.cancel(steady.job.id);
</script>

<template>
  <section>
    <h2>Steady</h2>
    <p class="acts" role="group" aria-label="How stills are laid against each other">
      <button
        v-for="one in ways"
        :key="one.how"
        type="button"
        class="plain-button"
        :aria-pressed="now.how === one.how"
        @click="steady.choose(one.how)"
      >
        {{ one.words }}
      </button>
    </p>
    <p class="quiet">{{ says }}</p>
    <template v-if="steady.isMeasuring">
      <p class="sentence" role="status">
        Being measured: {{ steady.job!.done.toLocaleString("en") }} of {{ steady.job!.total.toLocaleString("en") }}.
        <button type="button" class="plain-button" @click="cancel">cancel</button>
      </p>
      <progress :value="steady.job!.done" :max="Math.max(1, steady.job!.total)" aria-label="Measured"></progress>
    </template>
    <template v-else-if="now.how !== 'off'">
      <p class="sentence" role="status">{{ found?.sentence }}</p>
      <p v-if="found && !found.is_complete && (now.how !== 'anchor' || now.points.length)" class="acts">
        <button type="button" class="plain-button" @click="steady.measure()">measure it now</button>
      </p>
    </template>
  </section>

  <template v-if="now.how !== 'off'">
    <AnchorSection v-if="now.how === 'anchor'" />
    <TradeOffs />
    <StillSection v-if="now.how === 'still'" />
    <GlideSection v-if="now.how === 'glide' || (now.how === 'anchor' && now.points.length === 1)" />
    <EdgesSection />
  </template>
</template>

<style scoped src="./move.css"></style>
<style scoped>
progress {
  accent-color: var(--line);
  height: 6px;
  width: 100%;
}
</style>
