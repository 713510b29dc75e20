<script setup lang="ts">
import { computed, ref } from "vue";

import { nudged, useDrag } from "../../parts/drag";

/** How long the clip is, as a bar whose end is dragged; what comes of a length is said beside it while it is. */
const props = defineProps<{ seconds: number }>();
const emit = defineEmits<{ pull: [seconds: number]; keep: []; drop: [] }>();

const bar = ref<HTMLElement>();
/** What the whole bar stands for, held still while its end is dragged. */
const whole = ref<number>();
/** Where the end is dragged to, before what comes of it is known. */
const wanted = ref<number>();
const shown = computed(() => wanted.value ?? props.seconds);
const scale = computed(() => whole.value ?? Math.max(2, 2 * props.seconds));
const shortest = 0.04;

const { begin } = useDrag<number>(bar, {
  take(at) {
    whole.value = scale.value;
    return shown.value - at.x * scale.value;
  },
  // It does not jump to the pointer, wherever on it the end was taken hold of.
  pull: (off, at) => go(at.x * whole.value! + off),
  keep: (_, moved) => leave(moved ? "keep" : "drop"),
  drop: () => leave("drop"),
});

function go(seconds: number): void {
  wanted.value = Math.max(shortest, Math.round(seconds * 100) / 100);
  emit("pull", wanted.value);
}

function leave(how: "keep" | "drop"): void {
  if (wanted.value !== undefined && how === "keep") emit("keep");
  else emit("drop");
  whole.value = wanted.value = undefined;
}

function key(event: KeyboardEvent): void {
  const by = nudged(event, 0.1);
  if (by) go(shown.value + by.x - by.y);
}
</script>

<template>
  <div class="end">
    <div ref="bar" class="bar">
      <span class="clip" :style="{ width: `${Math.min(100, (100 * shown) / scale)}%` }"></span>
      <span
        class="handle"
        role="slider"
        tabindex="0"
        aria-label="Length of the clip"
        aria-valuemin="0"
        :aria-valuemax="scale.toFixed(2)"
        :aria-valuenow="shown.toFixed(2)"
        :aria-valuetext="`${shown.toFixed(2)} seconds`"
        :style="{ left: `${Math.min(100, (100 * shown) / scale)}%` }"
        @pointerdown="begin($event)"
        @keydown="key"
        @keyup="wanted !== undefined && leave('keep')"
        @blur="whole === undefined && wanted !== undefined && leave('keep')"
      ></span>
    </div>
    <span class="number">{{ shown.toFixed(2) }} s</span>
  </div>
</template>

<style scoped>
.end {
  align-items: center;
  display: grid;
  gap: 0.8rem;
  grid-template-columns: minmax(0, 1fr) 4.4rem;
}

.bar {
  background: var(--line-pale);
  height: 1.5rem;
  position: relative;
}

.clip {
  background: var(--line);
  bottom: 0.4rem;
  left: 0;
  position: absolute;
  top: 0.4rem;
}

.handle {
  background: var(--ink);
  bottom: 0;
  cursor: ew-resize;
  margin-left: -4px;
  position: absolute;
  top: 0;
  touch-action: none;
  width: 8px;
}

/* So wide that a finger finds it. */
.handle::after {
  content: "";
  inset: -10px -18px;
  position: absolute;
}

.number {
  text-align: right;
}
</style>
