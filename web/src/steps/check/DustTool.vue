<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from "vue";

import { nudged, placeIn } from "../../parts/drag";
import { asShare } from "../../parts/shares";
import { usePicture } from "../../stage/picture";
import { useShot } from "../../stores/shot";
import { useDust } from "./dust";

/** The whole still with a ring that is put around a spot of dust, by a click or by keys. */
const props = defineProps<{ address: string | undefined }>();
const shot = useShot();
const dust = useDust();
const box = ref<HTMLElement>();
const at = ref({ x: 0.5, y: 0.5 });
const { shown, refusal } = usePicture(computed(() => props.address));
const still = computed(() => shot.stills.stills[shot.current]);
const shape = computed(() => (still.value ? still.value.width / still.value.height : 1.5));

/** A ring in shares of the picture: as wide as the spot, round on the screen. */
function ring(x: number, y: number, width: number) {
  return {
    left: `${(x - width / 2) * 100}%`,
    top: `${(y - (width * shape.value) / 2) * 100}%`,
    width: `${width * 100}%`,
    height: `${width * shape.value * 100}%`,
  };
}

function press(event: PointerEvent): void {
  if (event.button !== 0) return;
  at.value = placeIn(box.value!, event);
  void dust.remove(at.value.x, at.value.y);
}

function key(event: KeyboardEvent): void {
  const by = nudged(event, 0.004);
  if (by) at.value = { x: asShare(at.value.x + by.x), y: asShare(at.value.y + by.y) };
  else if (event.key === "Enter") void dust.remove(at.value.x, at.value.y);
  else if (event.key === "+") dust.widen(1.15);
  else if (event.key === "-") dust.widen(1 / 1.15);
  else if (event.key === "Escape") dust.isMarking = false;
  else return;
  event.preventDefault();
  event.stopPropagation();
}

onMounted(() => box.value?.focus({ preventScroll: true }));
onBeforeUnmount(() => (dust.isMarking = false));
</script>

<template>
  <p v-if="refusal" class="warning" role="alert">{{ refusal }}</p>
  <div
    v-else
    ref="box"
    class="box"
    tabindex="0"
    role="application"
    aria-label="Where the dust is: arrows move the ring, plus and minus size it, Enter removes, Escape ends"
    @pointerdown.prevent="press"
    @pointermove="at = placeIn(box!, $event)"
    @wheel.prevent="dust.widen($event.deltaY < 0 ? 1.1 : 1 / 1.1)"
    @keydown="key"
  >
    <img v-if="shown" :src="shown.source" :alt="`Still ${shot.current + 1}`" draggable="false" />
    <span
      v-for="one in shot.decisions!.check.dust"
      :key="`${one.x} ${one.y}`"
      class="removed"
      :style="ring(one.x, one.y, one.width)"
    ></span>
    <span class="ring" :style="ring(at.x, at.y, dust.width)"></span>
  </div>
</template>

<style scoped>
.box {
  cursor: crosshair;
  display: flex;
  max-height: 100%;
  max-width: 100%;
  min-height: 0;
  position: relative;
  touch-action: none;
  user-select: none;
}

.box:focus-visible {
  outline: 2px solid var(--line);
  outline-offset: 2px;
}

img {
  display: block;
  max-height: 100%;
  max-width: 100%;
  min-height: 0;
}

.ring,
.removed {
  border: 2px solid var(--bright-paper);
  border-radius: 50%;
  box-shadow: 0 0 0 1px var(--ink);
  pointer-events: none;
  position: absolute;
}

.removed {
  border: 1px dashed var(--bright-paper);
}
</style>
