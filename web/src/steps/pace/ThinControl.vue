<script setup lang="ts">
import { computed } from "vue";

import type { Pace } from "../../api/client";
import SelectField from "../../parts/SelectField.vue";
import { useShot } from "../../stores/shot";
import NumberField from "../../parts/NumberField.vue";

const shot = useShot();
const thin = computed(() => shot.decisions!.pace.thin);
const ways = [
  { way: "all", name: "all of them" },
  { way: "every", name: "every so many" },
  { way: "leave", name: "some used, some left, in turn" },
  { way: "even", name: "a number of them, evenly" },
] as const;

const offered = computed(() =>
  thin.value.way === "picked"
    ? [...ways, { way: "picked" as const, name: `of every ${thin.value.every}, the one that goes on best` }]
    : ways,
);

function change(part: Partial<Pace["thin"]>): void {
  void shot.decide({ pace: { thin: { ...thin.value, ...part } } });
}
</script>

<template>
  <div class="thin">
    <SelectField
      name="Which stills are used"
      :value="thin.way"
      :options="offered"
      by="way"
      words="name"
      @change="change({ way: $event })"
    />
    <NumberField
      v-if="thin.way === 'every'"
      label="one of every"
      :value="thin.every"
      :min="2"
      :max="1000"
      @change="change({ every: $event })"
    />
    <template v-else-if="thin.way === 'leave'">
      <NumberField label="use" :value="thin.use" :min="1" :max="1000" @change="change({ use: $event })" />
      <NumberField label="then leave" :value="thin.leave" :min="1" :max="1000" @change="change({ leave: $event })" />
    </template>
    <NumberField
      v-else-if="thin.way === 'even'"
      label="stills"
      :value="thin.count"
      :min="1"
      :max="100000"
      @change="change({ count: $event })"
    />
  </div>
</template>

<style scoped>
.thin {
  display: grid;
  gap: 0.4rem;
}
</style>
