<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import FramesField from "./FramesField.vue";

const shot = useShot();
const pace = computed(() => shot.decisions!.pace);
const positions = computed(() => new Map(shot.stills.stills.map((still) => [still.id, still.position])));
const here = computed(() => pace.value.longer.find((one) => one.still === shot.shownStill?.id));
const others = computed(() =>
  pace.value.longer
    .map((one) => ({ ...one, position: positions.value.get(one.still) }))
    .filter((one) => one.position !== undefined),
);

function setLonger(frames: number | null): void {
  const still = shot.shownStill!.id;
  const rest = pace.value.longer.filter((one) => one.still !== still);
  void shot.decide({ pace: { longer: frames === null ? rest : [...rest, { still, frames }] } });
}
</script>

<template>
  <div class="hold">
    <FramesField
      label="each still stays for"
      :frames="pace.hold"
      @change="$event && shot.decide({ pace: { hold: $event } })"
    />
    <FramesField
      label="the last one for"
      :frames="pace.last"
      empty="as the others"
      @change="shot.decide({ pace: { last: $event } })"
    />
    <FramesField
      v-if="shot.shownStill"
      :label="`still ${shot.shown + 1} for`"
      :frames="here?.frames ?? null"
      empty="as the others"
      @change="setLonger"
    />
    <ul v-if="others.length">
      <li v-for="one in others" :key="one.still">
        <button type="button" class="plain-button number" @click="shot.goTo(one.position!)">
          still {{ one.position! + 1 }}
        </button>
        stays {{ one.frames }} frames
      </li>
    </ul>
    <p class="quiet">Write frames (3) or seconds (0.5 s).</p>
  </div>
</template>

<style scoped>
.hold {
  display: grid;
  gap: 0.4rem;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

button {
  color: var(--line);
}
</style>
