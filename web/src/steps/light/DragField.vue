<script setup lang="ts">
import { computed, ref } from "vue";

import { nudged, useDragTo } from "../../parts/drag";
import { useShot } from "../../stores/shot";
import { useLight } from "./light";

/**
 * A surface on which two settings are dragged at once; near its middle both stay at nothing, so that it is found again.
 */
interface Way {
  name: string;
  most: number;
  step: number;
  /** What lies at its two ends. */
  words: [string, string];
}
const props = defineProps<{ x: Way; y: Way; label: string }>();

const shot = useShot();
const light = useLight();
const field = ref<HTMLElement>();
const knob = computed(() => ({ left: share(props.x), top: share(props.y) }));

function share(way: Way): string {
  return `${(within(light.valueOf(way.name) / way.most, 1) + 1) * 50}%`;
}

function within(value: number, most: number): number {
  return Math.max(-most, Math.min(most, value));
}

const drag = useDragTo(
  field,
  (at) => light.tryValues({ [props.x.name]: valueAt(at.x, props.x), [props.y.name]: valueAt(at.y, props.y) }),
  { keep: () => shot.settle(), drop: () => shot.drop() },
);

function valueAt(share: number, way: Way): number {
  const value = within(share * 2 - 1, 1) * way.most;
  return Math.abs(value) < way.most * 0.025 ? 0 : Math.round(value / way.step) * way.step;
}

function key(event: KeyboardEvent): void {
  const by = nudged(event, 1);
  if (!by) return;
  const [way, steps] = by.x ? [props.x, by.x] : [props.y, by.y];
  const value = within(light.valueOf(way.name) + steps * way.step, way.most);
  // A tenth of a step is finer than what is dragged, and kept so.
  const step = event.altKey ? way.step / 10 : way.step;
  light.tryValues({ [way.name]: Math.round(value / step) * step });
}
</script>

<template>
  <div
    ref="field"
    class="field"
    tabindex="0"
    role="application"
    :aria-label="`${label}: drag towards ${x.words.join(' or ')}, ${y.words.join(' or ')}; arrow keys move it`"
    v-on="drag"
    @keydown="key"
    @keyup="shot.settle()"
  >
    <span class="word left">{{ x.words[0] }}</span>
    <span class="word right">{{ x.words[1] }}</span>
    <span class="word up">{{ y.words[0] }}</span>
    <span class="word down">{{ y.words[1] }}</span>
    <span class="knob" :style="knob"></span>
  </div>
</template>

<style scoped>
.field {
  border: 1px solid var(--hair);
  cursor: crosshair;
  height: 130px;
  position: relative;
  touch-action: none;
}

.word {
  color: var(--dial-ink);
  font-size: var(--type-small);
  pointer-events: none;
  position: absolute;
}

.left {
  left: 0.4rem;
  top: calc(50% - 0.6rem);
}

.right {
  right: 0.4rem;
  top: calc(50% - 0.6rem);
}

.up {
  left: 50%;
  top: 0.2rem;
  transform: translateX(-50%);
}

.down {
  bottom: 0.2rem;
  left: 50%;
  transform: translateX(-50%);
}

.knob {
  background: var(--on-picture);
  border: 2px solid var(--dial-ink);
  border-radius: 50%;
  height: 14px;
  pointer-events: none;
  position: absolute;
  transform: translate(-50%, -50%);
  width: 14px;
}
</style>
