<script setup lang="ts">
import { computed, onMounted, ref, watch } from "vue";

import { useFrames } from "../../stage/frames";
import { useWholeStill } from "../../stage/framed/whole";
import { nudged, placeIn } from "../../parts/drag";
import { asShare } from "../../parts/shares";
import { useShot } from "../../stores/shot";
import { useSteady } from "./steady";

/**
 * The whole still as it was shot, with what all stills cover, and the points that are anchored: clicked to say where
 * one is.
 */
const shot = useShot();
const frames = useFrames();
const steady = useSteady();
const box = ref<HTMLElement>();
const { shown, refusal, waiting } = useWholeStill(1280);
const cross = ref({ x: 0.5, y: 0.5 });
const isPointing = computed(() => frames.drawing === "point");
const region = computed(() => {
  const [left, top, right, bottom] = steady.found?.region ?? [0, 0, 1, 1];
  return right - left > 0.9999 && bottom - top > 0.9999 ? "" : `M0 0H1V1H0Z M${left} ${top}V${bottom}H${right}V${top}Z`;
});

function begin(): void {
  const known = steady.observations?.[steady.pointing];
  if (!isPointing.value) return;
  cross.value = known ? { x: known.x, y: known.y } : { x: 0.5, y: 0.5 };
  box.value?.focus();
}

onMounted(begin);
watch(isPointing, begin, { flush: "post" });

function press(event: PointerEvent): void {
  if (event.button === 0 && isPointing.value) void steady.put(placeIn(box.value!, event));
}

function hover(event: PointerEvent): void {
  if (isPointing.value) cross.value = placeIn(box.value!, event);
}

function key(event: KeyboardEvent): void {
  if (!isPointing.value) return;
  const by = nudged(event, 0.002);
  if (by) cross.value = { x: asShare(cross.value.x + by.x), y: asShare(cross.value.y + by.y) };
  if (event.key !== "Enter") return;
  void steady.put(cross.value);
  event.preventDefault();
  event.stopPropagation();
}
</script>

<template>
  <p v-if="refusal" class="note" role="alert">{{ refusal }}</p>
  <div
    v-else
    ref="box"
    class="steady"
    :class="{ pointing: isPointing }"
    :tabindex="isPointing ? 0 : undefined"
    :role="isPointing ? 'application' : undefined"
    :aria-label="
      isPointing
        ? 'The still: click on the point that is to be anchored, or move the cross with the arrow keys and press Enter'
        : undefined
    "
    @pointerdown="press"
    @pointermove="hover"
    @keydown="key"
  >
    <img v-if="shown" :src="shown.source" :alt="`Still ${shot.shown + 1} whole`" draggable="false" />
    <p v-else-if="waiting" class="note" role="status">Being made …</p>
    <svg v-if="region && !isPointing" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
      <path :d="region" />
    </svg>
    <span
      v-for="(one, number) in steady.observations"
      :key="number"
      class="point"
      :class="{ hidden: one.sure <= 0 }"
      :title="
        one.sure > 0
          ? `point ${number + 1}, ${Math.round(one.sure * 100)} % sure`
          : `point ${number + 1}, hidden here: where the camera's movement leads it`
      "
      :style="{ left: `${one.x * 100}%`, top: `${one.y * 100}%` }"
      ><b>{{ number + 1 }}<template v-if="one.sure <= 0"> hidden</template></b></span
    >
    <span v-if="isPointing" class="cross" :style="{ left: `${cross.x * 100}%`, top: `${cross.y * 100}%` }"></span>
  </div>
</template>

<style scoped src="./stage.css"></style>
<style scoped>
.steady {
  box-shadow: 0 0 0 1px var(--picture-edge);
  height: 100%;
  overflow: hidden;
  position: relative;
  touch-action: none;
  width: 100%;
}

.pointing {
  cursor: crosshair;
}

.steady:focus-visible {
  outline: 2px solid var(--line);
  outline-offset: 3px;
}

svg {
  pointer-events: none;
}

path {
  fill: var(--outside-picture);
  fill-rule: evenodd;
}

.point {
  border: 2px solid var(--on-picture);
  border-radius: 50%;
  box-shadow:
    0 0 0 1.5px var(--under-mark),
    inset 0 0 0 1.5px var(--under-mark);
  height: 26px;
  margin: -13px 0 0 -13px;
  pointer-events: none;
  position: absolute;
  width: 26px;
}

.point.hidden {
  border-style: dashed;
}

.point b {
  background: var(--paper);
  border-radius: var(--round);
  font-size: var(--type-tiny);
  font-weight: 400;
  left: 24px;
  padding: 0 0.3rem;
  position: absolute;
  top: -8px;
  white-space: nowrap;
}

.cross,
.cross::after {
  background: var(--on-picture);
  box-shadow: 0 0 0 1px var(--under-mark);
  height: 1px;
  margin-left: -16px;
  pointer-events: none;
  position: absolute;
  width: 32px;
}

.cross::after {
  content: "";
  height: 32px;
  left: 32px;
  top: -16px;
  width: 1px;
}
</style>
