<script setup lang="ts">
import { computed } from "vue";

import SelectField from "../../parts/SelectField.vue";
import { useShot } from "../../stores/shot";
import { perSecond, rates } from "../../parts/choices";

const shot = useShot();
const pace = computed(() => shot.decisions!.pace);
/** Those there are, and another one that was decided elsewhere. */
const offered = computed(() => {
  const { rate } = pace.value;
  return rates.some((one) => one.rate === rate) ? rates : [...rates, { rate, name: rate, hint: "" }];
});
const isLow = computed(() => perSecond(pace.value.rate) < 20);
/** As often as makes a rate that editors take. */
const repeats = computed(() => Math.ceil(24 / Math.round(perSecond(pace.value.rate))));

function use(rate: string): void {
  void shot.decide({ pace: { rate, repeat: 1 } });
}
</script>

<template>
  <div class="rate-control">
    <SelectField
      name="Frames per second"
      :value="pace.rate"
      :options="offered"
      by="rate"
      hint="hint"
      words="name"
      @change="use($event)"
    />
    <label v-if="isLow || pace.repeat > 1" class="check">
      <input
        type="checkbox"
        :checked="pace.repeat > 1"
        @change="shot.decide({ pace: { repeat: ($event.target as HTMLInputElement).checked ? repeats : 1 } })"
      />
      write each frame {{ repeats }} times, as {{ Math.round(perSecond(pace.rate)) * repeats }} a second: looks the
      same, and editors take it
    </label>
    <p v-if="shot.brief?.rate_note" class="quiet">{{ shot.brief.rate_note }}</p>
  </div>
</template>

<style scoped>
.rate-control {
  display: grid;
  gap: 0.45rem;
}

.check {
  align-items: start;
  display: flex;
  gap: 0.5rem;
}
</style>
