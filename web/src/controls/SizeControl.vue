<script setup lang="ts">
import Button from "primevue/button";
import InputNumber from "primevue/inputnumber";
import { computed, ref, watch } from "vue";

import { useShot } from "../stores/shot";
import { sizes } from "./choices";

const shot = useShot();
const size = computed(() => shot.decisions!.fit.size);
const width = ref(size.value.width);
const height = ref(size.value.height);

watch(size, (now) => {
  width.value = now.width;
  height.value = now.height;
});

const chosen = computed(() => sizes.find((one) => one.width === size.value.width && one.height === size.value.height));

function use(newWidth: number, newHeight: number): void {
  void shot.decide({ fit: { size: { width: newWidth, height: newHeight } } });
}
</script>

<template>
  <div class="size-control">
    <div class="choices" role="group" aria-label="Size of the clip">
      <button
        v-for="one in sizes"
        :key="one.name"
        type="button"
        class="choice"
        :class="{ chosen: chosen === one }"
        :aria-pressed="chosen === one"
        :title="one.hint"
        @click="use(one.width, one.height)"
      >
        <span class="shape" :style="{ aspectRatio: `${one.width} / ${one.height}` }" aria-hidden="true"></span>
        <span class="number">{{ one.name }}</span>
      </button>
    </div>
    <form class="own" @submit.prevent="use(width, height)">
      <label>
        <span>Width</span>
        <InputNumber v-model="width" :min="0" :max="99999" :use-grouping="false" input-class="number" fluid />
      </label>
      <label>
        <span>Height</span>
        <InputNumber v-model="height" :min="0" :max="99999" :use-grouping="false" input-class="number" fluid />
      </label>
      <Button type="submit" label="Use" severity="secondary" />
    </form>
  </div>
</template>

<style scoped>
.size-control {
  display: grid;
  gap: 0.6rem;
}

.choices {
  display: grid;
  gap: 0.3rem;
  grid-template-columns: 1fr 1fr;
}

.choice {
  align-items: center;
  background: none;
  border: 1px solid var(--hair);
  border-radius: 3px;
  color: inherit;
  cursor: pointer;
  display: flex;
  font: inherit;
  gap: 0.5rem;
  height: 2.3rem;
  padding: 0 0.5rem;
  text-align: left;
}

.choice:hover {
  background: var(--shade);
}

.choice.chosen {
  background: var(--line-pale);
  border-color: var(--line);
  box-shadow: inset 3px 0 0 var(--line);
}

.choice .number {
  font-size: 0.88rem;
  white-space: nowrap;
}

.shape {
  border: 1.5px solid currentcolor;
  flex: none;
  max-height: 18px;
  max-width: 22px;
  min-width: 10px;
  height: 18px;
}

.shape:not([style*="1080 / 19"], [style*="1080 / 1080"]) {
  height: auto;
  width: 22px;
}

.own {
  align-items: end;
  display: grid;
  gap: 0.5rem;
  grid-template-columns: 1fr 1fr auto;
}

.own label {
  display: grid;
  font-size: 0.9rem;
  gap: 0.15rem;
}
</style>
