<script setup lang="ts">
import { refDebounced } from "@vueuse/core";
import Button from "primevue/button";
import InputNumber from "primevue/inputnumber";
import { computed, ref, watch } from "vue";

import { api, type ShapeChoice } from "../../api/client";
import { useRead } from "../../api/queries";
import { useShot } from "../../stores/shot";

const shot = useShot();
const size = computed(() => shot.decisions!.fit.size);
const { answer: found } = useRead(() => ({
  key: ["shot", shot.shot!.id, "shapes", shot.state],
  query: () => api.sizes(shot.shot!.id),
}));
const shapes = computed(() => found.value ?? []);
const picked = ref<string>();
const width = ref(0);
const height = ref(0);

const shape = computed(
  () => shapes.value.find((one) => one.name === picked.value) ?? shapes.value.find(holds) ?? shapes.value[0],
);
const typed = computed(() => width.value !== size.value.width || height.value !== size.value.height);

const wanted = refDebounced(
  computed(() => [width.value || 0, height.value || 0] as const),
  200,
);
const { answer: advice } = useRead(() => ({
  key: ["shot", shot.shot!.id, "advice", shot.state, ...wanted.value],
  query: () => api.advice(shot.shot!.id, ...wanted.value),
}));

watch(
  size,
  (now) => {
    width.value = now.width;
    height.value = now.height;
    if (shape.value && !holds(shape.value)) picked.value = undefined;
  },
  { immediate: true },
);

function holds(one: ShapeChoice): boolean {
  return one.sizes.some((each) => each[0] === size.value.width && each[1] === size.value.height);
}

/** A shape that is picked is used at once, in the size nearest to the one before. */
function pick(one: ShapeChoice): void {
  picked.value = one.name;
  const short = Math.min(size.value.width, size.value.height);
  const nearest = one.sizes.reduce((best, each) => (off(each, short) < off(best, short) ? each : best));
  use(nearest[0]!, nearest[1]!);
}

function off(each: readonly number[], short: number): number {
  return Math.abs(Math.log(Math.min(each[0]!, each[1]!) / short));
}

function outline(one: ShapeChoice) {
  const [wide, high] = one.sizes[0] as [number, number];
  const scale = 20 / Math.max(wide, high);
  return { width: `${wide * scale}px`, height: `${high * scale}px` };
}

function use(newWidth: number, newHeight: number): void {
  width.value = newWidth;
  height.value = newHeight;
  if (newWidth === size.value.width && newHeight === size.value.height) return;
  void shot.decide({ fit: { size: { width: newWidth, height: newHeight } } });
}
</script>

<template>
  <div class="size-control">
    <div class="shapes" role="group" aria-label="Shape of the clip">
      <button
        v-for="one in shapes"
        :key="one.name"
        type="button"
        class="choice"
        :aria-pressed="shape === one"
        @click="pick(one)"
      >
        <span class="outline" :style="outline(one)" aria-hidden="true"></span>
        <span>{{ one.name }}</span>
      </button>
    </div>
    <div v-if="shape" class="sizes" role="group" aria-label="Size of the clip">
      <button
        v-for="one in shape.sizes"
        :key="one.join()"
        type="button"
        class="choice number"
        :aria-pressed="one[0] === size.width && one[1] === size.height"
        @click="use(one[0]!, one[1]!)"
      >
        {{ one[0] }} × {{ one[1] }}
      </button>
    </div>
    <form class="own" @submit.prevent="use(width, height)">
      <label>
        <span>Width</span>
        <InputNumber
          v-model="width"
          :min="0"
          :max="99999"
          :use-grouping="false"
          input-class="number"
          fluid
          @input="width = Number($event.value)"
        />
      </label>
      <label>
        <span>Height</span>
        <InputNumber
          v-model="height"
          :min="0"
          :max="99999"
          :use-grouping="false"
          input-class="number"
          fluid
          @input="height = Number($event.value)"
        />
      </label>
      <Button
        type="submit"
        :label="advice?.usable && typed ? 'Use it anyway' : 'Use'"
        severity="secondary"
        :disabled="!typed || advice?.usable === false"
      />
    </form>
    <p v-if="advice && typed" class="warning" role="status">
      {{ advice.sentence }}
      <button
        v-for="one in advice.meant"
        :key="`${one.width} ${one.height}`"
        type="button"
        class="plain-button act"
        @click="use(one.width, one.height)"
      >
        use {{ one.width }} × {{ one.height }}
      </button>
    </p>
  </div>
</template>

<style scoped>
.size-control {
  display: grid;
  gap: 0.6rem;
}

.shapes,
.sizes {
  display: grid;
  gap: 0.3rem;
  grid-template-columns: repeat(3, 1fr);
}

.sizes {
  grid-template-columns: 1fr 1fr;
}

.choice {
  align-items: center;
  background: none;
  border: 1px solid var(--hair);
  border-radius: var(--round);
  color: inherit;
  cursor: pointer;
  display: flex;
  font: inherit;
  gap: 0.45rem;
  height: 2rem;
  padding: 0 0.45rem;
  white-space: nowrap;
}

.choice.number {
  font-family: var(--mono);
  font-size: var(--type-small);
}

.choice:hover {
  background: var(--shade);
}

.choice[aria-pressed="true"] {
  background: var(--line-pale);
  border-color: var(--line);
  box-shadow: inset 3px 0 0 var(--line);
}

.outline {
  border: 1.5px solid currentcolor;
  flex: none;
}

.own {
  align-items: end;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: 1fr 1fr auto;
}

.own label {
  display: grid;
  font-size: var(--type-near);
  gap: 0.15rem;
}

.act {
  color: var(--line);
  text-decoration: underline;
}
</style>
