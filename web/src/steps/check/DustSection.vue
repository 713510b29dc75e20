<script setup lang="ts">
import { computed } from "vue";

import { useViewModes } from "../../stage/viewModes";
import { useShot } from "../../stores/shot";
import { NARROWEST, useDust, WIDEST } from "./dust";

/** Dust on the sensor: another spot is marked, and those that are removed are looked at where they showed most. */
const shot = useShot();
const modes = useViewModes();
const dust = useDust();
dust.follow();
const spots = computed(() => (shot.decisions?.check.dust.length ? (dust.spots ?? []) : []));

function mark(): void {
  modes.show("one");
  dust.isMarking = !dust.isMarking;
}

function look(at: { x: number; y: number }, position: number): void {
  dust.isMarking = false;
  shot.goTo(position);
  modes.show("one");
  modes.spot = { x: at.x, y: at.y };
}
</script>

<template>
  <section aria-labelledby="dust">
    <h3 id="dust">Dust on the sensor</h3>
    <p class="quiet">
      {{
        dust.isMarking
          ? "Click on the middle of a spot, with the ring a little wider than it. The wheel or + and − size it."
          : "A spot is measured over the shot, and what it takes of the light is given back in every still."
      }}
    </p>
    <p class="line">
      <button type="button" class="plain-button act" :aria-pressed="dust.isMarking" @click="mark">
        {{ dust.isMarking ? "done marking" : "mark a spot" }}
      </button>
      <input
        v-if="dust.isMarking"
        v-model.number="dust.width"
        type="range"
        :min="NARROWEST"
        :max="WIDEST"
        step="0.001"
        aria-label="Width of the ring"
        :aria-valuetext="`${(dust.width * 100).toFixed(1)} % of the width`"
      />
    </p>
    <ul v-if="spots.length" aria-label="Spots that are removed">
      <li v-for="one in spots" :key="`${one.x} ${one.y}`">
        <span>{{ one.sentence }}</span>
        <span class="line">
          <template v-if="one.worst.length">
            <span class="quiet">showed most in</span>
            <button
              v-for="position in one.worst"
              :key="position"
              type="button"
              class="plain-button act"
              :title="`Real pixels of still ${position + 1} there, without the spot`"
              @click="look(one, position)"
            >
              {{ (position + 1).toLocaleString("en") }}
            </button>
          </template>
          <button type="button" class="plain-button act" @click="dust.bringBack(one)">bring back</button>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.line {
  align-items: center;
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.5rem;
  margin: 0;
}

.act {
  color: var(--line);
}

input {
  accent-color: var(--line);
  flex: 1;
  max-width: 12rem;
}

ul {
  display: grid;
  gap: 0.5rem;
  list-style: none;
  margin: 0.4rem 0 0;
  padding: 0;
}

li {
  border-left: 3px double var(--moss);
  display: grid;
  padding-left: 0.6rem;
}
</style>
