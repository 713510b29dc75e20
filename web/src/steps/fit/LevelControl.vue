<script setup lang="ts">
import { computed } from "vue";

import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import NumberField from "../../parts/NumberField.vue";

const shot = useShot();
const frames = useFrames();
const fit = computed(() => shot.decisions!.fit);

function draw(): void {
  frames.mode = "frame";
  frames.drawing = frames.drawing === "level" ? undefined : "level";
}

function turn(by: number): void {
  void shot.decide({ fit: { quarters: (fit.value.quarters + by + 4) % 4 } });
}
</script>

<template>
  <div class="level">
    <NumberField
      label="level (clockwise)"
      :value="fit.level"
      :min="-45"
      :max="45"
      :places="2"
      :step="0.1"
      unit="°"
      @change="shot.decide({ fit: { level: $event } })"
    />
    <p class="acts">
      <button type="button" class="plain-button" :aria-pressed="frames.drawing === 'level'" @click="draw">
        {{ frames.drawing === "level" ? "draw along the horizon or an upright edge" : "level along a line" }}
      </button>
      <button v-if="fit.level" type="button" class="plain-button" @click="shot.decide({ fit: { level: 0 } })">
        as shot
      </button>
    </p>
    <p class="acts">
      <button type="button" class="plain-button" @click="turn(-1)">quarter turn left</button>
      <button type="button" class="plain-button" @click="turn(1)">quarter turn right</button>
      <button
        type="button"
        class="plain-button"
        :aria-pressed="fit.mirror"
        @click="shot.decide({ fit: { mirror: !fit.mirror } })"
      >
        mirror
      </button>
    </p>
  </div>
</template>

<style scoped>
.level {
  display: grid;
  gap: 0.45rem;
}
</style>
