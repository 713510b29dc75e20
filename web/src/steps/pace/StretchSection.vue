<script setup lang="ts">
import { computed } from "vue";

import { api } from "../../api/client";
import { useShot } from "../../stores/shot";

const shot = useShot();
const used = computed(() => shot.usedStretch);
const isAll = computed(() => used.value.first === 0 && used.value.last === shot.count - 1);
const id = (position: number) => shot.stills.stills[position]!.id;

function use(first: number, last: number): void {
  if (first > last) return;
  const begin = first > 0 ? id(first) : null;
  const end = last < shot.count - 1 ? id(last) : null;
  void shot.change((one, seen) => api.useStretch(one, seen, begin, end));
}
</script>

<template>
  <section v-if="shot.count">
    <h2>From which still to which</h2>
    <p>
      <button type="button" class="plain-button number act" @click="shot.goTo(used.first)">
        still {{ used.first + 1 }}
      </button>
      to
      <button type="button" class="plain-button number act" @click="shot.goTo(used.last)">
        still {{ used.last + 1 }}</button
      >{{ isAll ? ": the whole shot" : "" }}
    </p>
    <p class="acts">
      <button
        type="button"
        class="plain-button"
        :disabled="shot.current > used.last"
        @click="use(shot.current, used.last)"
      >
        begin at {{ shot.current + 1 }}
      </button>
      <button
        type="button"
        class="plain-button"
        :disabled="shot.current < used.first"
        @click="use(used.first, shot.current)"
      >
        end at {{ shot.current + 1 }}
      </button>
      <button
        v-if="shot.stretch"
        type="button"
        class="plain-button"
        @click="use(shot.stretch.first, shot.stretch.last)"
      >
        only the chosen stretch
      </button>
      <button v-if="!isAll" type="button" class="plain-button" @click="use(0, shot.count - 1)">all</button>
    </p>
  </section>
</template>
