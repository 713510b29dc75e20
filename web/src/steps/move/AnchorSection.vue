<script setup lang="ts">
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { useSteady } from "./steady";

/** The points that are anchored: where they are, and where they go. */
const shot = useShot();
const frames = useFrames();
const steady = useSteady();
const now = computed(() => steady.steady);
const found = computed(() => steady.found);

function seen(number: number): string {
  const sure = found.value?.sure[number];
  if (!sure) return "not followed yet";
  const many = sure.filter((one) => one > 0).length;
  return `seen in ${many.toLocaleString("en")} of ${sure.length.toLocaleString("en")} stills`;
}
</script>

<template>
  <section>
    <ul aria-label="Points that are held">
      <li v-for="(_, number) in now.points" :key="number">
        <span class="name"
          >{{ number ? "second point" : "point" }}: <span class="quiet">{{ seen(number) }}</span></span
        >
        <button
          type="button"
          class="plain-button"
          :aria-pressed="frames.drawing === 'point' && steady.pointing === number"
          @click="steady.point(number)"
        >
          it is here …
        </button>
        <button
          type="button"
          class="plain-button"
          :aria-label="`forget ${number ? 'the second point' : 'the point'}`"
          @click="steady.forget(number)"
        >
          forget
        </button>
      </li>
    </ul>
    <p v-if="frames.drawing === 'point'" class="note" role="status">
      Click on it in the picture of still {{ shot.shown + 1 }}, or move the cross with the arrow keys and press Enter.
    </p>
    <p class="acts">
      <button v-if="!now.points.length" type="button" class="plain-button" @click="steady.point(0)">
        click on a point …
      </button>
      <button
        v-if="now.points.length === 1"
        type="button"
        class="plain-button"
        title="It keeps level and size as well"
        @click="steady.point(1)"
      >
        and a second one …
      </button>
    </p>
    <template v-if="now.points.length">
      <p class="acts">
        <button
          type="button"
          class="plain-button"
          :aria-pressed="!now.ends"
          @click="steady.set({ begins: null, ends: null })"
        >
          it stays where it is
        </button>
        <button
          type="button"
          class="plain-button"
          :aria-pressed="now.ends !== null"
          @click="steady.set({ ends: now.ends ?? { x: 0.5, y: 0.5 } })"
        >
          it goes to …
        </button>
      </p>
      <template v-if="now.ends">
        <NumberField
          label="across, at the end"
          :value="now.ends.x * 100"
          :min="0"
          :max="100"
          :step="1"
          :places="1"
          unit=" %"
          @change="steady.set({ ends: { ...now.ends, x: $event / 100 } })"
        />
        <NumberField
          label="down, at the end"
          :value="now.ends.y * 100"
          :min="0"
          :max="100"
          :step="1"
          :places="1"
          unit=" %"
          @change="steady.set({ ends: { ...now.ends, y: $event / 100 } })"
        />
      </template>
    </template>
  </section>
</template>

<style scoped src="./move.css"></style>
<style scoped>
.note {
  background: var(--saffron-pale);
  border-radius: var(--round);
  padding: 0.3rem 0.6rem;
}
</style>
