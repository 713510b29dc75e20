<script setup lang="ts">
import { computed } from "vue";

import NumberField from "../../parts/NumberField.vue";
import SelectField from "../../parts/SelectField.vue";
import { qualityWord, useEncoding } from "./encoding";

const { choices, encode, format, decide } = useEncoding();
const aim = computed(() => encode.value.aim);
const index = computed(
  () => choices.value?.qualities.findIndex((one) => one.name === qualityWord(choices.value!, encode.value.crf)) ?? -1,
);
/** The encoder's own number, exact where the quality is one of the words. */
const number = computed(() => {
  const word = choices.value?.qualities[index.value];
  if (!format.value?.has_quality || !word) return "";
  const about = word.crf === encode.value.crf ? "" : "about ";
  return `${about}${format.value.numbers[index.value]} in ${format.value.number_name}`;
});

function change(part: Partial<typeof aim.value>): void {
  void decide({ aim: { ...aim.value, ...part } });
}
</script>

<template>
  <div v-if="format?.has_quality && choices" class="aim">
    <label
      ><input type="radio" name="aim" :checked="aim.by === 'quality'" @change="change({ by: 'quality' })" /> one quality
      all through</label
    >
    <div v-if="aim.by === 'quality'" class="inner">
      <SelectField
        name="Quality"
        :value="choices.qualities[index]?.crf"
        :options="choices.qualities"
        by="crf"
        hint="gives"
        words="name"
        @change="decide({ crf: $event })"
      />
      <span class="quiet number">{{ number }}</span>
    </div>
    <label
      ><input type="radio" name="aim" :checked="aim.by === 'size'" @change="change({ by: 'size' })" /> a wanted
      size</label
    >
    <div v-if="aim.by === 'size'" class="inner">
      <NumberField
        label="megabytes"
        :value="aim.megabytes"
        :min="0.1"
        :max="1000000"
        :places="1"
        unit=" MB"
        @change="change({ megabytes: $event })"
      />
    </div>
    <label
      ><input type="radio" name="aim" :checked="aim.by === 'rate'" @change="change({ by: 'rate' })" /> so much each
      second</label
    >
    <div v-if="aim.by === 'rate'" class="inner">
      <NumberField
        label="megabits a second"
        :value="aim.mbits"
        :min="0.05"
        :max="10000"
        :places="2"
        unit=" Mbit"
        @change="change({ mbits: $event })"
      />
      <NumberField
        label="never more than (0: no ceiling)"
        :value="aim.most_mbits"
        :min="0"
        :max="10000"
        :places="2"
        unit=" Mbit"
        @change="change({ most_mbits: $event })"
      />
    </div>
  </div>
  <p v-else-if="format" class="quiet">
    {{ format.title }} has no quality to choose:
    {{
      format.way === "numbered" || format.name.startsWith("ffv1")
        ? "nothing is lost"
        : "each frame has its fixed share"
    }}.
  </p>
</template>

<style scoped>
.aim {
  display: grid;
  gap: 0.35rem;
}

.inner {
  display: grid;
  gap: 0.3rem;
  margin-left: 1.5rem;
}

p {
  margin: 0;
}
</style>
