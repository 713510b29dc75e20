<script setup lang="ts">
import { until } from "@vueuse/core";
import { computed, ref, shallowRef } from "vue";

import { nudged, placeIn, useDrag, type Place } from "../../parts/drag";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { dragged, led, useAreas, type Shape } from "./areas";
import { shapesOver, type Handle } from "./areaShapes";
import { useLight } from "./light";

/** The shapes of the area that is worked on, over the frame: drawn, dragged, painted. */

const shot = useShot();
const light = useLight();
const areas = useAreas();
const frames = useFrames();
const tool = ref<SVGSVGElement>();
type Stroke = [number, number][];
/** The stroke that is being painted, and those painted before it that are on their way to be kept. */
const stroke = ref<Stroke>([]);
const underWay = shallowRef<Stroke[]>([]);
const pointer = ref<Place>();
const isLaying = computed(() => frames.drawing === "area" && areas.laying !== undefined);
const isPainting = computed(() => isLaying.value && areas.laying!.kind === "brush");
const shapes = computed(() => (light.worked && light.laid ? light.worked.mask.parts.map((part) => part.shape) : []));
const frame = computed(() => shot.decisions!.fit.size);
/** The frame is as wide as 100 here, and as high as it is in shape. */
const high = computed(() => (100 * frame.value.height) / frame.value.width);
const over = computed(() => light.laid && shapesOver(light.laid, high.value));
const outlines = computed(() => shapes.value.flatMap((shape) => over.value!.outline(shape)));
const handles = computed(() => shapes.value.flatMap((shape, part) => over.value!.handlesOf(shape, part)));
/** A shape that is being laid, in shares of the frame: where that lies in the still may not be known yet. */
interface Laid {
  from: Place;
  to: Place;
  at: { area: number; part: number };
}
/** What is pulled: a stroke that is painted, a shape that is laid, or a handle of one. */
type Pulled = { paints: true } | { laid: Laid } | { handle: Handle; shape: Shape };

const drag = useDrag<Pulled, Handle | undefined>(tool, {
  take(at, event, handle) {
    if (handle) {
      if (isLaying.value || !light.laid) return undefined;
      event.stopPropagation();
      return { handle, shape: shapes.value[handle.part]! };
    }
    if (!isLaying.value) return undefined;
    if (!isPainting.value) return { laid: { from: at, to: at, at: areas.begun() } };
    stroke.value = [[at.x, at.y]];
    return { paints: true };
  },
  pull(pulled, at) {
    if ("paints" in pulled) stroke.value = [...stroke.value, [at.x, at.y]];
    else if ("laid" in pulled) {
      pulled.laid.to = at;
      layShape(pulled.laid);
    } else {
      const { handle, shape } = pulled;
      const to = led(light.laid!.to_still, at);
      attempt(over.value!.movedTo(shape, handle.name, to), { area: light.area!, part: handle.part });
    }
  },
  keep: (pulled) => void keepPulled(pulled),
  drop() {
    stroke.value = [];
    shot.drop();
  },
});

function point(event: PointerEvent): void {
  const at = placeIn(tool.value!, event);
  pointer.value = { x: at.x * 100, y: at.y * high.value };
}

function layShape({ from, to, at }: Laid): void {
  const { kind } = areas.laying!;
  const toStill = light.laid?.to_still;
  if (kind !== "brush" && toStill) attempt(dragged(kind, led(toStill, from), led(toStill, to)), at);
}

function attempt(shape: Shape, at: { area: number; part: number }): void {
  const made = areas.withShape(shape, at);
  shot.tryOut({ light: { areas: made.areas } });
  light.area = made.area;
}

async function keepPulled(pulled: Pulled): Promise<void> {
  if ("paints" in pulled) {
    const points = stroke.value;
    stroke.value = [];
    return keep(points.slice(0, 4000));
  }
  const wasLaid = "laid" in pulled ? pulled.laid : undefined;
  if (wasLaid && !light.laid && wasLaid.from !== wasLaid.to) await layOncePlaced(wasLaid);
  await shot.settle();
  if (wasLaid && light.area === wasLaid.at.area) {
    areas.laying = undefined;
    frames.drawing = undefined;
  }
}

/** Lay a shape that was dragged before it was known where the frame lies in the still; another shot gets none of it. */
async function layOncePlaced(shape: Laid): Promise<void> {
  const of = shot.shot?.id;
  await until(() => light.laid).toBeTruthy();
  if (shot.shot?.id === of && isLaying.value) layShape(shape);
}

/** Keep a stroke, and show it until that is done: the next may be painted meanwhile. */
async function keep(points: Stroke): Promise<void> {
  underWay.value = [...underWay.value, points];
  try {
    await areas.paint(points);
  } finally {
    underWay.value = underWay.value.filter((one) => one !== points);
  }
}

function nudge(event: KeyboardEvent, handle: Handle): void {
  const by = nudged(event, 0.005);
  if (!by) return;
  const to = led(light.laid!.to_still, { x: handle.x / 100 + by.x, y: handle.y / high.value + by.y });
  attempt(over.value!.movedTo(shapes.value[handle.part]!, handle.name, to), { area: light.area!, part: handle.part });
}
</script>

<template>
  <svg
    ref="tool"
    class="tool"
    :class="{ laying: isLaying }"
    :viewBox="`0 0 100 ${high}`"
    preserveAspectRatio="none"
    v-on="drag.on"
    @pointermove="point"
    @pointerleave="pointer = undefined"
  >
    <g v-if="!isPainting">
      <g v-for="shade in ['dark', 'light']" :key="shade" :class="shade">
        <path v-for="(one, place) in outlines" :key="place" :d="one" />
      </g>
      <ellipse
        v-for="one in handles"
        :key="`${one.part}${one.name}`"
        class="handle"
        :class="one.name"
        :cx="one.x"
        :cy="one.y"
        rx="1.1"
        ry="1.1"
        tabindex="0"
        role="button"
        :aria-label="`${one.words}: drag it, or move it by arrow keys`"
        @pointerdown="drag.begin($event, one)"
        @keydown="nudge($event, one)"
        @keyup="shot.settle()"
      />
    </g>
    <template v-for="(one, place) in [...underWay, stroke]" :key="place">
      <polyline
        v-if="one.length"
        class="stroke"
        :points="one.map(([x, y]) => `${x * 100},${y * high}`).join(' ')"
        :stroke-width="areas.brush.width * 100"
      />
    </template>
    <circle v-if="isPainting && pointer" class="brush" :cx="pointer.x" :cy="pointer.y" :r="areas.brush.width * 50" />
  </svg>
</template>

<style scoped>
.tool {
  height: 100%;
  inset: 0;
  overflow: hidden;
  pointer-events: none;
  position: absolute;
  touch-action: none;
  width: 100%;
}

.laying {
  cursor: crosshair;
  pointer-events: auto;
}

path {
  fill: none;
  vector-effect: non-scaling-stroke;
}

.dark path {
  stroke: var(--under-mark);
  stroke-width: 3.5;
}

.light path {
  stroke: var(--on-picture);
  stroke-width: 1.4;
}

.handle {
  cursor: grab;
  fill: var(--on-picture);
  pointer-events: auto;
  stroke: var(--kite);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}

.laying .handle {
  pointer-events: none;
}

.handle.to {
  fill: var(--ink);
}

.handle:focus-visible {
  outline: 2px solid var(--line);
}

.stroke {
  fill: none;
  stroke: var(--faint-mark);
  stroke-linecap: round;
  stroke-linejoin: round;
}

.brush {
  fill: none;
  stroke: var(--on-picture);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}
</style>
