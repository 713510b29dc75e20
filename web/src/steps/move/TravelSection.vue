<script setup lang="ts">
import { computed, ref } from "vue";

import type { UsualMove } from "../../api/client";
import NumberField from "../../parts/NumberField.vue";
import { useClip } from "../../playback/clip";
import { useShot } from "../../stores/shot";
import { useMove } from "./move";
import { timeWords, useHere } from "./when";

const shot = useShot();
const clip = useClip();
const move = useMove();
const amount = ref(20);
const usual: { name: UsualMove; words: string }[] = [
  { name: "push in", words: "push in" },
  { name: "pull out", words: "pull out" },
  { name: "drift left", words: "drift left" },
  { name: "drift right", words: "drift right" },
  { name: "rise", words: "rise" },
  { name: "sink", words: "sink" },
  { name: "turn", words: "turn a little" },
];
const here = useHere();
const canAdd = computed(
  () =>
    move.move.views.length > 0 &&
    move.move.views.length < 12 &&
    !move.move.views.some((one) => Math.abs(one.at - here.value) < 0.005),
);

const when = (at: number) => timeWords(at, clip.playback);
</script>

<template>
  <section>
    <h2>Travel</h2>
    <p class="quiet">
      The view goes over the still while the clip runs. Begin with one of these, then drag its frames on the stage.
    </p>
    <NumberField
      label="by how much"
      :value="amount"
      :min="1"
      :max="100"
      :step="5"
      unit=" %"
      @change="amount = $event"
    />
    <p class="acts">
      <button
        v-for="one in usual"
        :key="one.name"
        type="button"
        class="plain-button"
        @click="move.begin(one.name, amount / 100)"
      >
        {{ one.words }}
      </button>
      <button
        v-if="move.move.views.length"
        type="button"
        class="plain-button"
        @click="shot.decide({ move: { views: [] } })"
      >
        stay still
      </button>
    </p>
    <p class="sentence" role="status">{{ move.travel?.sentence }}</p>
  </section>
  <section v-if="move.move.views.length">
    <h2>Where it is</h2>
    <ul aria-label="Views, from the start of the clip to its end">
      <li v-for="(one, place) in move.move.views" :key="one.at" :class="{ worked: place === move.chosen }">
        <button
          type="button"
          class="plain-button name"
          :aria-pressed="place === move.chosen"
          @click="move.choose(place)"
        >
          {{ when(one.at) }}
        </button>
        <span class="number">{{ one.closeness.toFixed(2) }} ×</span>
        <button
          type="button"
          class="plain-button"
          :aria-label="`remove the view ${when(one.at)}`"
          @click="move.remove(place)"
        >
          remove
        </button>
      </li>
    </ul>
    <p class="acts">
      <button type="button" class="plain-button" :disabled="!canAdd" @click="move.add(here)">
        put one here, {{ when(here) }}
      </button>
    </p>
    <template v-if="move.view">
      <NumberField
        label="closer"
        :value="move.view.closeness"
        :min="1"
        :max="20"
        :step="0.05"
        :places="3"
        unit=" ×"
        @change="move.set({ closeness: $event })"
      />
      <NumberField
        label="turned, with the clock"
        :value="move.view.level_deg"
        :min="-15"
        :max="15"
        :step="0.1"
        :places="2"
        unit="°"
        @change="move.set({ level_deg: $event })"
      />
      <NumberField
        label="middle, from the left"
        :value="move.view.x * 100"
        :min="0"
        :max="100"
        :step="0.5"
        :places="2"
        unit=" %"
        @change="move.set({ x: $event / 100 })"
      />
      <NumberField
        label="middle, from the top"
        :value="move.view.y * 100"
        :min="0"
        :max="100"
        :step="0.5"
        :places="2"
        unit=" %"
        @change="move.set({ y: $event / 100 })"
      />
    </template>
    <p class="acts">
      <span class="quiet">it begins and ends</span>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="move.move.ends === 'soft'"
        @click="shot.decide({ move: { ends: 'soft' } })"
      >
        gently
      </button>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="move.move.ends === 'hard'"
        @click="shot.decide({ move: { ends: 'hard' } })"
      >
        at once
      </button>
    </p>
  </section>
</template>

<style scoped src="./move.css"></style>
