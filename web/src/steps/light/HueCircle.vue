<script setup lang="ts">
import { computed, ref } from "vue";
import { useDrag, type Place } from "../../parts/drag";

import { useShot } from "../../stores/shot";
import HueFields from "./HueFields.vue";
import { apart, arc, at, radius, where, within } from "./hues";
import { useLight } from "./light";
import { plain, type Grade } from "./settings";

/**
 * The picture's own colours around a circle; a part of it is dragged round to another hue, out to more colour, in to
 * less.
 */
type HuePull = Grade["hues"][number];

const shot = useShot();
const light = useLight();
const circle = ref<SVGSVGElement>();
const chosen = ref(0);
const most = 8;
const mostTurn = 60;
const pulls = computed(() => light.grade.hues);
const pull = computed<HuePull | undefined>(() => pulls.value[chosen.value]);
const rim = computed(() => {
  const colours = light.circle?.rim ?? [];
  const step = 360 / Math.max(1, colours.length);
  return colours.map((colour, index) => ({
    colour,
    path: arc((index - 0.5) * step, (index + 0.55) * step, radius + 4, radius + 12),
  }));
});
const spots = computed(() =>
  [...(light.circle?.spots ?? [])]
    .reverse()
    .map((one) => ({ ...one, ...at(one.hue, Math.sqrt(one.reach) * radius), size: 2.2 + 26 * Math.sqrt(one.share) })),
);
const handles = computed(() =>
  pulls.value.map((one, place) => {
    const outward = light.grade.monochrome
      ? light.valueOf(`hues.${place}.lightness`)
      : light.valueOf(`hues.${place}.colour`);
    return {
      place,
      ...at(one.hue + light.valueOf(`hues.${place}.turn`), radius * (0.66 + 0.34 * outward)),
      from: at(one.hue, radius * 0.66),
    };
  }),
);
const sector = computed(
  () => pull.value && arc(pull.value.hue - pull.value.width, pull.value.hue + pull.value.width, 0, radius),
);
interface Dragged {
  place: number;
  angle: number;
  reach: number;
  turn: number;
  outward: number;
}

function take(share: Place): Dragged | undefined {
  const { angle, reach } = where(share);
  let place = handles.value.findIndex((one) => Math.hypot(one.x - at(angle, reach).x, one.y - at(angle, reach).y) < 14);
  if (place < 0) place = pulls.value.findIndex((one) => Math.abs(apart(angle, one.hue)) < one.width / 2);
  if (place < 0) {
    if (pulls.value.length >= most) return undefined;
    place = pulls.value.length;
    light.attempt("hues", [
      ...pulls.value,
      {
        hue: Math.round(((angle % 360) + 360) % 360) % 360,
        width: 40,
        turn: plain(),
        colour: plain(),
        lightness: plain(),
      },
    ]);
  }
  chosen.value = place;
  const outward = light.grade.monochrome ? "lightness" : "colour";
  return {
    place,
    angle,
    reach,
    turn: light.valueOf(`hues.${place}.turn`),
    outward: light.valueOf(`hues.${place}.${outward}`),
  };
}

function turned(dragged: Dragged, to: Place): void {
  const { angle, reach } = where(to);
  const outward = within(dragged.outward + (reach - dragged.reach) / (radius * 0.34), 1, 100);
  if (light.grade.monochrome) light.tryValues({ [`hues.${dragged.place}.lightness`]: outward });
  else
    light.tryValues({
      [`hues.${dragged.place}.turn`]: within(dragged.turn + apart(angle, dragged.angle), mostTurn, 1),
      [`hues.${dragged.place}.colour`]: outward,
    });
}

const drag = useDrag<Dragged>(circle, {
  take,
  pull: turned,
  keep: () => shot.settle(),
  drop: () => shot.drop(),
});

function key(event: KeyboardEvent): void {
  const outward = light.grade.monochrome ? "lightness" : "colour";
  const moves: Record<string, [string, number, number]> = {
    ArrowLeft: ["turn", 1, mostTurn],
    ArrowRight: ["turn", -1, mostTurn],
    ArrowUp: [outward, 0.02, 1],
    ArrowDown: [outward, -0.02, 1],
  };
  const move = moves[event.key];
  if (!move || !pull.value) return;
  event.preventDefault();
  event.stopPropagation();
  const name = `hues.${chosen.value}.${move[0]}`;
  light.tryValues({ [name]: within(light.valueOf(name) + move[1] * (event.shiftKey ? 5 : 1), move[2], 100) });
}

function forget(): void {
  const left = pulls.value.filter((_, place) => place !== chosen.value);
  chosen.value = Math.max(0, Math.min(chosen.value, left.length - 1));
  void light.set("hues", left);
}
</script>

<template>
  <div class="circle">
    <svg
      ref="circle"
      viewBox="-110 -110 220 220"
      tabindex="0"
      role="application"
      aria-label="The picture's colours by hue: drag a part round to another hue, outwards for more of it, inwards for less; arrow keys do the same"
      v-on="drag.on"
      @keydown="key"
      @keyup="shot.settle()"
    >
      <circle class="ground" :r="radius" />
      <path v-for="(one, place) in rim" :key="place" :d="one.path" :fill="one.colour" />
      <path v-if="sector" class="sector" :d="sector" />
      <circle
        v-for="(one, place) in spots"
        :key="`s${place}`"
        :cx="one.x"
        :cy="one.y"
        :r="one.size"
        :fill="one.colour"
      />
      <g v-for="one in handles" :key="`h${one.place}`" :class="{ chosen: one.place === chosen }">
        <line class="way" :x1="one.from.x" :y1="one.from.y" :x2="one.x" :y2="one.y" />
        <circle class="handle" :cx="one.x" :cy="one.y" r="6" />
      </g>
    </svg>
    <p v-if="!pulls.length" class="quiet words">
      Press on a part of the circle and drag it: round to another hue, out for more of that colour, in for less.
    </p>
    <template v-if="pull">
      <p v-if="pulls.length > 1" class="acts">
        <button
          v-for="(one, place) in pulls"
          :key="place"
          type="button"
          class="plain-button number"
          :aria-pressed="place === chosen"
          :aria-label="`the part at ${one.hue}°`"
          @click="chosen = place"
        >
          {{ Math.round(one.hue) }}°
        </button>
      </p>
      <HueFields :place="chosen" :width="pull.width" @forget="forget" />
    </template>
  </div>
</template>

<style scoped>
.circle {
  display: grid;
  gap: 0.3rem;
}

svg {
  cursor: grab;
  justify-self: center;
  max-width: 250px;
  touch-action: none;
  width: 100%;
}

svg:focus {
  outline: none;
}

svg:focus-visible {
  border-radius: 50%;
  outline: 2px solid var(--line);
}

.ground {
  fill: var(--dial-grey);
}

.sector {
  fill: var(--on-picture-faint);
  pointer-events: none;
}

.way {
  stroke: var(--on-picture);
  stroke-width: 2;
}

.handle {
  fill: var(--on-picture);
  stroke: var(--dial-ink);
  stroke-width: 2;
}

.chosen .handle {
  fill: var(--kite);
}
</style>
