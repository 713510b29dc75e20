<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import { useSteady } from "./steady";

/** Onto what stills are laid that stand still, and which movements go. */
const shot = useShot();
const steady = useSteady();
const now = computed(() => steady.steady);
const reference = computed(() => (now.value.reference ? shot.positions.get(now.value.reference) : undefined));
</script>

<template>
  <section>
    <p class="acts">
      <span class="quiet">onto</span>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="reference === undefined"
        @click="steady.set({ reference: null })"
      >
        the middle of all
      </button>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="reference !== undefined"
        @click="steady.set({ reference: shot.shownStill!.id })"
      >
        {{
          reference === undefined
            ? `still ${shot.shown + 1}`
            : reference === shot.shown
              ? `still ${reference + 1}`
              : `still ${reference + 1}, not ${shot.shown + 1}`
        }}
      </button>
    </p>
    <label class="check"
      ><input type="checkbox" :checked="now.turn" @change="steady.set({ turn: !now.turn })" /> turns go too</label
    >
    <label class="check"
      ><input type="checkbox" :checked="now.size" @change="steady.set({ size: !now.size })" /> changes of size go
      too</label
    >
    <label class="check"
      ><input type="checkbox" :checked="now.perspective" @change="steady.set({ perspective: !now.perspective })" />
      lines that begin to converge go too</label
    >
  </section>
</template>

<style scoped src="./move.css"></style>
