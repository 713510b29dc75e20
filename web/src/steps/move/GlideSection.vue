<script setup lang="ts">
import { computed, ref } from "vue";

import { api } from "../../api/client";
import NumberField from "../../parts/NumberField.vue";
import { useClip } from "../../playback/clip";
import { useShot } from "../../stores/shot";
import { useSteady, type Smoothed } from "./steady";

/** Over how many stills place, level and size are made even, and which stills are used. */
const shot = useShot();
const clip = useClip();
const steady = useSteady();
const now = computed(() => steady.steady);
const found = computed(() => steady.found);
const rate = computed(() => clip.playback?.frames_per_second ?? 25);
const thin = computed(() => shot.decisions!.pace.thin);
const isPicked = computed(() => thin.value.way === "picked");
const every = ref(3);
const lengths: { name: Smoothed; words: string }[] = [
  { name: "place_over", words: "position evened over" },
  { name: "level_over", words: "level evened over" },
  { name: "size_over", words: "size evened over" },
];
</script>

<template>
  <section>
    <template v-for="one in lengths" :key="one.name">
      <NumberField
        v-if="now.how === 'glide' || one.name !== 'place_over'"
        :label="`${one.words} (${(now[one.name] / rate).toFixed(1)} s of the clip)`"
        :value="now[one.name]"
        :min="0"
        :max="3000"
        :step="4"
        unit=" stills"
        @change="steady.set({ [one.name]: $event })"
      />
    </template>
    <template v-if="now.how === 'glide'">
      <p v-if="found?.is_complete && found.proposed !== now.place_over" class="acts">
        <button type="button" class="plain-button" @click="steady.take(found!.proposed)">
          as its swing suggests: {{ found.proposed }} stills
        </button>
      </p>
      <label class="check">
        <input
          type="checkbox"
          :checked="now.most_lost !== null"
          @change="steady.set({ most_lost: now.most_lost === null ? 0.05 : null })"
        />
        lose no more of each edge than
      </label>
      <NumberField
        v-if="now.most_lost !== null"
        label="of the width and height"
        :value="now.most_lost * 100"
        :min="1"
        :max="45"
        :step="1"
        :places="1"
        unit=" %"
        @change="steady.set({ most_lost: $event / 100 })"
      />
      <div class="pick">
        <NumberField
          label="use one of every"
          :value="every"
          :min="2"
          :max="20"
          unit=" stills"
          @change="every = $event"
        />
        <p class="acts">
          <button
            type="button"
            class="plain-button"
            :disabled="!found?.is_complete"
            :aria-pressed="isPicked"
            title="Steps of uneven length then glide"
            @click="shot.change((id, seen) => api.pickStills(id, seen, every))"
          >
            the one that goes on best
          </button>
          <button
            v-if="isPicked"
            type="button"
            class="plain-button"
            @click="shot.decide({ pace: { thin: { ...thin, way: 'all' } } })"
          >
            all of them
          </button>
        </p>
      </div>
    </template>
  </section>
</template>

<style scoped src="./move.css"></style>
<style scoped>
.pick {
  display: grid;
  gap: 0.35rem;
}
</style>
