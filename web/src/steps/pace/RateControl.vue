<script setup lang="ts">
import Select from "primevue/select";
import { computed } from "vue";

import { useShot } from "../../stores/shot";
import { perSecond, rates } from "../../parts/choices";

const shot = useShot();
const pace = computed(() => shot.decisions!.pace);
const chosen = computed(() => rates.find((one) => one.rate === pace.value.rate));
const isLow = computed(() => perSecond(pace.value.rate) < 20);
/** As often as makes a rate that editors take. */
const repeats = computed(() => Math.ceil(24 / Math.round(perSecond(pace.value.rate))));

function use(rate: string): void {
  void shot.decide({ pace: { rate, repeat: 1 } });
}
</script>

<template>
  <div class="rate-control">
    <Select
      :model-value="pace.rate"
      :options="[...rates]"
      option-label="name"
      option-value="rate"
      aria-label="Frames per second"
      scroll-height="22rem"
      fluid
      @update:model-value="use($event)"
    >
      <template #value>
        <span class="number">{{ chosen?.name ?? pace.rate }}</span> frames per second
      </template>
      <template #option="{ option }">
        <span class="rate number">{{ option.name }}</span>
        <span class="quiet">{{ option.hint }}</span>
      </template>
    </Select>
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

.rate {
  flex: none;
  width: 4.2rem;
}

.check {
  align-items: start;
  display: flex;
  gap: 0.5rem;
}
</style>
