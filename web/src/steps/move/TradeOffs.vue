<script setup lang="ts">
import { computed } from "vue";

import { useSteady } from "./steady";

/** What more or less of steadying costs, and what of the unrest it leaves. */
const steady = useSteady();
const now = computed(() => steady.steady);
const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
const isChosen = (strength: number) =>
  now.value.how === "glide" ? now.value.place_over === strength : Math.abs(now.value.share - strength) < 0.005;
</script>

<template>
  <section v-if="steady.tradeOffs?.length">
    <h3>What more or less of it costs</h3>
    <ol aria-label="Strength, what is lost of the picture, and what unrest stays">
      <li v-for="one in steady.tradeOffs" :key="one.strength">
        <button
          type="button"
          class="plain-button"
          :aria-pressed="isChosen(one.strength)"
          @click="steady.take(one.strength)"
        >
          {{ now.how === "glide" ? `${one.strength} stills` : percent(one.strength) }}
        </button>
        <span class="bars" aria-hidden="true"
          ><i class="lost" :style="{ width: `${Math.min(100, (1 - 1 / one.closer) * 250)}%` }"></i
          ><i class="stays" :style="{ width: `${one.stays * 100}%` }"></i
        ></span>
        <span class="number">loses {{ percent(1 - 1 / one.closer) }}</span>
        <span class="number">{{ percent(one.stays) }} stays</span>
      </li>
    </ol>
  </section>
</template>

<style scoped src="./move.css"></style>
<style scoped>
ol li {
  display: grid;
  gap: 0.5rem;
  grid-template-columns: 4.8rem minmax(1.2rem, 1fr) 5.4rem 6rem;
}

ol .plain-button {
  text-align: left;
}

ol .number {
  font-size: var(--type-tiny);
  text-align: right;
  white-space: nowrap;
}

.bars {
  display: grid;
  gap: 2px;
}

.bars i {
  display: block;
  height: 4px;
  min-width: 1px;
}

.lost {
  background: var(--saffron);
}

.stays {
  background: var(--line);
}

h3 {
  font-size: var(--type-near);
  margin: 0;
}
</style>
