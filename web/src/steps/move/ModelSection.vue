<script setup lang="ts">
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useClip } from "../../playback/clip";
import { useShot } from "../../stores/shot";
import { useModel } from "./model";
import { timeWords, useHere } from "./when";

const shot = useShot();
const clip = useClip();
const model = useModel();
const here = useHere();
const canAdd = computed(
  () => model.model.bands.length < 12 && !model.model.bands.some((one) => Math.abs(one.at - here.value) < 0.005),
);
const colour = computed(() => shot.decisions!.light.saturation);
const isColoured = computed(() => colour.value.value >= 0.3 || colour.value.keyframes.length > 0);
const isFaster = computed(() => shot.decisions!.pace.thin.way !== "all");

function drag(event: Event): void {
  model.tryStrength(Number((event.target as HTMLInputElement).value) / 100);
}
</script>

<template>
  <section>
    <h2>Miniature look</h2>
    <p class="quiet">
      Sharp along a band and soft on both sides, as a lens shows what is small and near. Drag the band on the stage.
    </p>
    <label class="strength">
      <span>how much</span>
      <input
        type="range"
        min="0"
        max="100"
        :value="Math.round(model.model.strength * 100)"
        @input="drag"
        @change="shot.settle()"
      />
      <span class="number">{{ Math.round(model.model.strength * 100) }} %</span>
    </label>
    <template v-if="model.model.strength > 0">
      <NumberField
        label="sharp, of the height"
        :value="model.band.width * 100"
        :min="0"
        :max="100"
        :step="1"
        :places="1"
        unit=" %"
        @change="model.set({ width: $event / 100 })"
      />
      <NumberField
        label="grows soft over"
        :value="model.band.softness * 100"
        :min="2"
        :max="150"
        :step="2"
        :places="1"
        unit=" %"
        @change="model.set({ softness: $event / 100 })"
      />
      <NumberField
        label="turned, with the clock"
        :value="model.band.angle_deg"
        :min="-90"
        :max="90"
        :step="1"
        :places="1"
        unit="°"
        @change="model.set({ angle_deg: $event })"
      />
      <NumberField
        label="middle, from the top"
        :value="model.band.y * 100"
        :min="0"
        :max="100"
        :step="1"
        :places="1"
        unit=" %"
        @change="model.set({ y: $event / 100 })"
      />
      <ul v-if="model.model.bands.length > 1" aria-label="Bands, from the start of the clip to its end">
        <li v-for="(one, place) in model.model.bands" :key="one.at" :class="{ worked: place === model.chosen }">
          <button
            type="button"
            class="plain-button name"
            :aria-pressed="place === model.chosen"
            @click="model.choose(place)"
          >
            {{ timeWords(one.at, clip.playback) }}
          </button>
          <button
            type="button"
            class="plain-button"
            :aria-label="`remove the band ${timeWords(one.at, clip.playback)}`"
            @click="model.remove(place)"
          >
            remove
          </button>
        </li>
      </ul>
      <p class="acts">
        <button type="button" class="plain-button" :disabled="!canAdd" @click="model.add(here)">
          keyframe here, {{ timeWords(here, clip.playback) }}
        </button>
      </p>
      <p class="acts">
        <span class="quiet">with it goes</span>
        <button
          v-if="!isColoured"
          type="button"
          class="plain-button"
          @click="shot.decide({ light: { saturation: { value: 0.35, keyframes: [] } } })"
        >
          stronger colour
        </button>
        <button
          v-if="!isFaster"
          type="button"
          class="plain-button"
          @click="shot.decide({ pace: { thin: { ...shot.decisions!.pace.thin, way: 'every', every: 2 } } })"
        >
          twice the pace
        </button>
        <span v-if="isColoured && isFaster" class="quiet">stronger colour and a quicker pace: both are set.</span>
      </p>
    </template>
  </section>
</template>

<style scoped src="./move.css"></style>
<style scoped>
.strength {
  align-items: center;
  display: grid;
  gap: 0.6rem;
  grid-template-columns: auto minmax(0, 1fr) 3.4rem;
}

input[type="range"] {
  accent-color: var(--line);
}

.strength .number {
  text-align: right;
}
</style>
