<script setup lang="ts">
import { useElementSize } from "@vueuse/core";
import { computed, ref } from "vue";

import { useShot } from "../../stores/shot";
import NumberField from "../../parts/NumberField.vue";
import { useLight, type Light } from "./light";

const shot = useShot();
const light = useLight();
const plot = ref<HTMLElement>();
const { width, height } = useElementSize(plot);
const even = computed(() => light.light.even);
const wished = computed(() => even.value.flicker || even.value.steps);
const course = computed(() => light.course);
const ends = computed(() => {
  const every = [...(course.value?.measured ?? []), ...(course.value?.planned ?? [])];
  const [least, most] = [Math.min(...every), Math.max(...every)];
  const margin = Math.max(0.1, (most - least) * 0.1);
  return { least: least - margin, most: most + margin };
});
const here = computed(() => ((shot.shown + 0.5) / Math.max(1, shot.count)) * width.value);
const gain = computed(() => course.value?.gains[shot.shown] ?? 0);

function decide(change: Partial<Light["even"]>): void {
  void shot.decide({ light: { even: { ...even.value, ...change } } });
}

function line(values: readonly number[] = []): string {
  const { least, most } = ends.value;
  return values
    .map((value, index) => `${index ? "L" : "M"}${(((index + 0.5) / values.length) * width.value).toFixed(1)} ${((1 - (value - least) / (most - least)) * height.value).toFixed(1)}`)
    .join("");
}

function go(event: MouseEvent): void {
  const area = plot.value!.getBoundingClientRect();
  shot.goTo(Math.floor(((event.clientX - area.left) / area.width) * shot.count));
}
</script>

<template>
  <section>
    <h2>Even light</h2>
    <label class="check" title="Lamps, shutters and apertures that are never quite the same: each still is brought onto the smooth course of the light around it.">
      <input type="checkbox" :checked="even.flicker" @change="decide({ flicker: !even.flicker })" />
      even out flicker
    </label>
    <label class="check" title="Where the camera changed its exposure for good, as when night falls.">
      <input type="checkbox" :checked="even.steps" @change="decide({ steps: !even.steps })" />
      take out changes of exposure
    </label>
    <div ref="plot" class="plot" @click="go">
      <svg v-if="course?.measured.length" :width="width" :height="height" role="img" aria-label="The light of each still, as it is and as it will be">
        <line v-for="one in course.steps" :key="one.position" class="step" :x1="(one.position / shot.count) * width" :x2="(one.position / shot.count) * width" y1="0" :y2="height" />
        <line class="here" :x1="here" :x2="here" y1="0" :y2="height" />
        <path class="measured" :class="{ alone: !wished }" :d="line(course.measured)" />
        <path v-if="wished" class="planned" :d="line(course.planned)" />
      </svg>
    </div>
    <p v-if="course && !course.measured.length" class="quiet">These stills were gathered before light was measured. Look for changed files in gather, then come back.</p>
    <template v-if="wished">
      <p class="words" role="status">{{ course?.sentence }}</p>
      <p class="quiet words">This still: {{ gain >= 0 ? "+" : "−" }}{{ Math.abs(gain).toFixed(2) }} stops.</p>
      <div v-if="even.flicker" class="smooth">
        <label class="check"><input type="checkbox" :checked="even.smooth === 0" @change="decide({ smooth: even.smooth ? 0 : 50 })" /> find out by itself what is smooth</label>
        <NumberField v-if="even.smooth" label="ups and downs that may stay, in stills" :value="even.smooth" :min="4" :max="3000" @change="decide({ smooth: $event })" />
      </div>
      <p v-if="even.steps" class="acts">
        <button type="button" class="plain-button" :aria-pressed="even.course === 'even'" @click="decide({ course: 'even' })">spread evenly over the shot</button>
        <button type="button" class="plain-button" :aria-pressed="even.course === 'as seen'" @click="decide({ course: 'as seen' })">as the eye saw it</button>
      </p>
    </template>
  </section>
</template>

<style scoped>
.check {
  align-items: center;
  display: flex;
  gap: 0.5rem;
}

.plot {
  background: var(--bright-paper);
  border: 1px solid var(--hair);
  cursor: pointer;
  height: 84px;
  overflow: hidden;
}

svg {
  display: block;
}

path {
  fill: none;
}

.measured {
  stroke: var(--soft-ink);
  stroke-width: 1;
}

.measured.alone {
  stroke-width: 1.5;
}

.planned {
  stroke: var(--line);
  stroke-width: 2;
}

.here {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}

.step {
  stroke: var(--hair);
  stroke-width: 2;
}

.words {
  font-size: 0.92rem;
}

.smooth {
  display: grid;
  gap: 0.35rem;
}
</style>
