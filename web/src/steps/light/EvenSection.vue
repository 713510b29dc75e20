<script setup lang="ts">
import { computed, ref } from "vue";

import NumberField from "../../parts/NumberField.vue";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { within } from "./course";
import CourseChoice from "./CourseChoice.vue";
import EvenPlot from "./EvenPlot.vue";
import { useLight } from "./light";
import type { Light } from "./settings";

const shot = useShot();
const light = useLight();
const frames = useFrames();
const even = computed(() => light.light.even);
const isDrawn = computed(() => even.value.course === "drawn");
const course = computed(() => light.course);
const chosen = ref<number>();
const wished = computed(
  () =>
    even.value.flicker ||
    even.value.steps ||
    even.value.switched ||
    even.value.colour ||
    even.value.bands ||
    isDrawn.value,
);
const gain = computed(() => course.value?.gains[shot.shown] ?? 0);

function decide(change: Partial<Light["even"]>): void {
  void shot.decide({ light: { even: { ...even.value, ...change } } });
}

function forget(): void {
  const { drawn } = even.value;
  void light.set(
    "even.drawn",
    { ...drawn, keyframes: drawn.keyframes.filter((one) => one.still !== chosen.value) },
    "",
  );
  chosen.value = undefined;
}

/** Begin to draw from what is planned now, at both ends, so that nothing jumps. */
function draw(): void {
  const planned = course.value?.planned ?? [];
  const stills = shot.stills.stills;
  const begun = [0, stills.length - 1].map((place) => ({
    still: stills[place]!.id,
    value: within(planned[place] ?? 0),
  }));
  const keyframes = even.value.drawn.keyframes.length ? even.value.drawn.keyframes : begun;
  decide({ course: "drawn", drawn: { value: 0, keyframes } });
}

function judgeBy(): void {
  frames.show("frame");
  frames.drawing = frames.drawing === "region" ? undefined : "region";
}
</script>

<template>
  <section>
    <h2>Even light</h2>
    <label
      class="check"
      title="Lamps, shutters and apertures that are never quite the same: each still is brought onto the smooth course of the light around it."
    >
      <input type="checkbox" :checked="even.flicker" @change="decide({ flicker: !even.flicker })" />
      even out flicker
    </label>
    <label class="check" title="Where the camera changed its exposure for good, as when night falls.">
      <input type="checkbox" :checked="even.steps" @change="decide({ steps: !even.steps })" />
      take out changes of exposure
    </label>
    <label
      class="check"
      title="Lamps that come on or go off, and sun that comes out for good: the camera did not change."
    >
      <input type="checkbox" :checked="even.switched" @change="decide({ switched: !even.switched })" />
      take out lamps that are switched
    </label>
    <label
      class="check"
      title="Lamps and automatic white balance: red and blue of each still are brought onto their smooth course as well."
    >
      <input type="checkbox" :checked="even.colour" @change="decide({ colour: !even.colour })" />
      even out colour
    </label>
    <label class="check" title="Lamps and rolling shutters: bands that lie elsewhere in each still.">
      <input
        type="checkbox"
        :checked="even.bands"
        :disabled="even.region !== null && !even.bands"
        @change="decide({ bands: !even.bands })"
      />
      take out bands
    </label>
    <EvenPlot v-model="chosen" :wished="wished" @forget="forget" />
    <p v-if="course && !course.measured.length" class="quiet">
      These stills were gathered before light was measured. Look for changed files in gather, then come back.
    </p>
    <template v-if="wished">
      <p class="words" role="status">{{ course?.sentence }}</p>
      <p class="quiet words">This still: {{ gain >= 0 ? "+" : "−" }}{{ Math.abs(gain).toFixed(2) }} stops.</p>
      <div v-if="even.flicker" class="smooth">
        <label class="check"
          ><input type="checkbox" :checked="even.smooth === 0" @change="decide({ smooth: even.smooth ? 0 : 50 })" />
          find out by itself what is smooth</label
        >
        <NumberField
          v-if="even.smooth"
          label="ups and downs that may stay, in stills"
          :value="even.smooth"
          :min="4"
          :max="3000"
          @change="decide({ smooth: $event })"
        />
      </div>
      <p class="acts">
        <button type="button" class="plain-button" :aria-pressed="frames.drawing === 'region'" @click="judgeBy">
          {{
            frames.drawing === "region"
              ? "drag over it in the picture"
              : even.region
                ? "judged by another part …"
                : "judge by a part of the picture …"
          }}
        </button>
        <button v-if="even.region" type="button" class="plain-button" @click="decide({ region: null })">
          by all of it
        </button>
      </p>
      <CourseChoice :even="even" :course="course" @choose="decide({ course: $event })" @draw="draw" />
      <p v-if="isDrawn && chosen !== undefined" class="acts">
        <button type="button" class="plain-button" @click="forget">forget this point</button>
      </p>
    </template>
  </section>
</template>

<style scoped>
.smooth {
  display: grid;
  gap: 0.35rem;
}
</style>
