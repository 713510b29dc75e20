<script setup lang="ts">
import { computed } from "vue";

import { useShot } from "../stores/shot";
import { stretchesOf } from "./plots";
import type { StepTail } from "./stepTail";

/** What lies over the tail: what is out of the clip, mended, chosen, marked. */
const props = defineProps<{ own: StepTail; height: number; besidePictures: number }>();

const shot = useShot();
const marks = computed(() => props.own.marks?.() ?? []);
const keyframes = computed(() => props.own.keyframes?.() ?? []);
const hidden = computed(() => props.own.hidden?.() ?? []);

/** Stills of some ids that follow each other, as bands. */
function bandsOf(ids: ReadonlySet<number> | undefined) {
  const places = (ids?.size ? shot.stills.stills : []).flatMap((still) => (ids!.has(still.id) ? [still.position] : []));
  return stretchesOf(places);
}

/** What is not in the clip. */
const asideBands = computed(() => bandsOf(shot.out));

/** Stills that are shown alone, where some are not. */
const onlyBands = computed(() => bandsOf(shot.only));

/** What lies outside of the stretch that is used. */
const unused = computed(() => {
  const { first, last } = shot.usedStretch;
  return [
    ...(first > 0 ? [{ first: 0, last: first - 1 }] : []),
    ...(last < shot.count - 1 ? [{ first: last + 1, last: shot.count - 1 }] : []),
  ];
});
const mendedPlaces = computed(() =>
  shot.mended.size ? shot.stills.stills.filter((still) => shot.mended.has(still.id)) : [],
);

function band(first: number, last: number) {
  const row = props.height / shot.count;
  return { top: `${first * row}px`, height: `${Math.max(2, (last - first + 1) * row)}px` };
}
</script>

<template>
  <span
    v-for="one in keyframes"
    :key="`key${one.position}`"
    class="keyframe"
    :title="one.words"
    :style="{ top: `${((one.position + 0.5) / shot.count) * height}px` }"
  ></span>
  <span
    v-for="one in hidden"
    :key="`hidden${one.first}`"
    class="hidden-point"
    title="The anchored point is hidden here"
    :style="band(one.first, one.last)"
  ></span>
  <span v-for="one in unused" :key="`unused${one.first}`" class="unused" :style="band(one.first, one.last)"></span>
  <span
    v-for="one in mendedPlaces"
    :key="`mended${one.id}`"
    class="mended"
    :style="band(one.position, one.position)"
  ></span>
  <span v-for="one in asideBands" :key="one.first" class="aside-band" :style="band(one.first, one.last)"></span>
  <span v-for="one in onlyBands" :key="`only${one.first}`" class="only" :style="band(one.first, one.last)"></span>
  <span v-if="shot.stretch" class="stretch" :style="band(shot.stretch.first, shot.stretch.last)"></span>
  <span
    v-for="mark in marks"
    :key="`${mark.kind}${mark.position}`"
    class="mark"
    :title="mark.sentence"
    :style="{ top: `${(mark.position / shot.count) * height}px` }"
  ></span>
</template>

<style scoped>
.keyframe {
  background: var(--bright-paper);
  border: 2px solid var(--line);
  border-radius: 50%;
  height: 9px;
  left: 2px;
  margin-top: -4.5px;
  position: absolute;
  width: 9px;
}

.hidden-point {
  background: var(--saffron);
  pointer-events: none;
  position: absolute;
  right: 0;
  width: 4px;
}

.unused {
  background: color-mix(in srgb, var(--paper) 80%, transparent);
  left: 0;
  pointer-events: none;
  position: absolute;
  right: 0;
}

.mended {
  border-left: 4px double var(--moss);
  left: 0;
  margin-left: 10px;
  min-height: 5px;
  pointer-events: none;
  position: absolute;
}

.only {
  background: var(--line);
  left: 0;
  pointer-events: none;
  position: absolute;
  width: 5px;
}

.stretch {
  background: color-mix(in srgb, var(--line) 16%, transparent);
  border-bottom: 2px solid var(--line);
  border-top: 2px solid var(--line);
  left: 0;
  pointer-events: none;
  position: absolute;
  right: 0;
}

.mark {
  border-bottom: 5px solid transparent;
  border-left: 9px solid var(--saffron);
  border-top: 5px solid transparent;
  left: 0;
  margin-top: -5px;
  position: absolute;
}

.aside-band {
  background: repeating-linear-gradient(
    45deg,
    color-mix(in srgb, var(--paper) 85%, transparent) 0 3px,
    color-mix(in srgb, var(--soft-ink) 55%, transparent) 3px 4px
  );
  left: 0;
  pointer-events: none;
  position: absolute;
  right: v-bind("`${props.besidePictures}px`");
}
</style>
