<script setup lang="ts">
import { computed, ref } from "vue";

import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { placeIn } from "../../stage/picture";
import SettingField from "./SettingField.vue";
import { useLight } from "./light";

const shot = useShot();
const frames = useFrames();
const light = useLight();
const field = ref<HTMLElement>();
const mostWarmth = 150;
const mostTint = 40;
const knob = computed(() => ({
  left: `${(Math.max(-1, Math.min(1, light.valueOf("warmth") / mostWarmth)) + 1) * 50}%`,
  top: `${(Math.max(-1, Math.min(1, light.valueOf("tint") / mostTint)) + 1) * 50}%`,
}));

function drag(event: PointerEvent): void {
  if (!(event.buttons & 1)) return;
  const { x, y } = placeIn(field.value!, event);
  light.tryValues({ warmth: at(x, mostWarmth), tint: at(y, mostTint) });
}

function press(event: PointerEvent): void {
  if (event.button !== 0) return;
  field.value!.setPointerCapture(event.pointerId);
  drag(event);
}

/** Near the middle it stays there, so that it is found again. */
function at(share: number, most: number): number {
  const value = (Math.max(0, Math.min(1, share)) * 2 - 1) * most;
  return Math.abs(value) < most * 0.025 ? 0 : Math.round(value);
}

function key(event: KeyboardEvent): void {
  const moves: Record<string, [number, number]> = { ArrowLeft: [-2, 0], ArrowRight: [2, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  const move = moves[event.key];
  if (!move) return;
  event.preventDefault();
  event.stopPropagation();
  const times = event.shiftKey ? 5 : 1;
  light.tryValues({
    warmth: Math.max(-mostWarmth, Math.min(mostWarmth, light.valueOf("warmth") + move[0] * times)),
    tint: Math.max(-mostTint, Math.min(mostTint, light.valueOf("tint") + move[1] * times)),
  });
}

function pick(): void {
  frames.show("frame");
  frames.drawing = frames.drawing === "grey" ? undefined : "grey";
}
</script>

<template>
  <section>
    <h2>Colour</h2>
    <div
      ref="field"
      class="field"
      tabindex="0"
      role="application"
      aria-label="The colour the light leans to: drag towards warm or cold, green or red; arrow keys move it"
      @pointerdown="press"
      @pointermove="drag"
      @pointerup="shot.settle()"
      @keydown="key"
      @keyup="shot.settle()"
    >
      <span class="word left">cold</span>
      <span class="word right">warm</span>
      <span class="word up">green</span>
      <span class="word down">red</span>
      <span class="knob" :style="knob"></span>
    </div>
    <p class="acts">
      <button type="button" class="plain-button" :aria-pressed="frames.drawing === 'grey'" @click="pick">
        {{ frames.drawing === "grey" ? "click on it in the picture" : "something here is grey …" }}
      </button>
      <button v-if="light.valueOf('warmth') || light.valueOf('tint')" type="button" class="plain-button" @click="light.setValues({ warmth: 0, tint: 0 })">as shot</button>
    </p>
    <SettingField name="warmth" label="warmth" :min="-250" :max="250" :step="2" :places="0" unit=" mired" />
    <SettingField name="tint" label="red against green" :min="-60" :max="60" :step="1" :places="0" />
    <SettingField name="saturation" label="more or less colour" :min="-1" :max="1" :step="0.05" :places="2" />
  </section>
</template>

<style scoped>
.field {
  background:
    linear-gradient(to bottom, rgb(120 190 120 / 0.75), rgb(150 150 150 / 0.1) 50%, rgb(205 105 150 / 0.75)),
    linear-gradient(to right, rgb(110 150 215), rgb(190 190 190) 50%, rgb(230 165 90));
  border: 1px solid var(--hair);
  cursor: crosshair;
  height: 130px;
  position: relative;
  touch-action: none;
}

.word {
  color: #1d2327;
  font-size: 0.85rem;
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
  background: #fff;
  border: 2px solid #1d2327;
  border-radius: 50%;
  height: 14px;
  pointer-events: none;
  position: absolute;
  transform: translate(-50%, -50%);
  width: 14px;
}
</style>
