<script setup lang="ts">
import { onBeforeUnmount, toRef } from "vue";

import { api, type Cutoffs } from "../../api/client";
import { useFrames } from "../../stage/frames";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";

const shot = useShot();
const frames = useFrames();

useDerived("cutoff", (of) => api.cutoff(of.shot, of.revision, of.change), { into: toRef(frames, "cutoffs") });
onBeforeUnmount(() => (frames.cutoffs = undefined));

function look(stretch: Cutoffs["stretches"][number]): void {
  shot.choose(stretch.first, stretch.last);
  shot.goTo(stretch.first);
  frames.show("around");
  frames.under = "activity";
}
</script>

<template>
  <section>
    <h2>For the whole shot</h2>
    <template v-if="frames.cutoffs?.stretches.length">
      <p class="warning">{{ frames.cutoffs.sentence }}</p>
      <p class="acts">
        <button
          v-for="one in frames.cutoffs.stretches.slice(0, 4)"
          :key="one.first"
          type="button"
          class="plain-button"
          @click="look(one)"
        >
          look at stills {{ one.first + 1 }} to {{ one.last + 1 }}
        </button>
      </p>
    </template>
    <p v-else-if="frames.cutoffs" class="quiet">Nothing that moves for long lies outside the frame.</p>
    <p class="acts">
      <button
        type="button"
        class="plain-button"
        :aria-pressed="frames.mode === 'around'"
        @click="frames.show('around')"
      >
        all around the frame
      </button>
      <button type="button" class="plain-button" :aria-pressed="frames.mode === 'three'" @click="frames.show('three')">
        first, middle, last
      </button>
    </p>
  </section>
</template>
