<script setup lang="ts">
import { until } from "@vueuse/core";
import { computed, ref, shallowRef } from "vue";

import { nudged, placeIn, useDrag, type Place } from "../../parts/drag";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { dragged, led, round, useAreas, type Shape } from "./areas";
import { useLight } from "./light";

/** The shapes of the area that is worked on, over the frame: drawn, dragged, painted. */
type Handle = Place & { part: number; name: string; words: string };

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
const outlines = computed(() => shapes.value.flatMap((shape) => outline(shape)));
const handles = computed(() => shapes.value.flatMap((shape, part) => handlesOf(shape, part)));
const frame = computed(() => shot.decisions!.fit.size);
/** The frame is as wide as 100 here, and as high as it is in shape. */
const high = computed(() => (100 * frame.value.height) / frame.value.width);
/** A shape that is being laid, in shares of the frame: where that lies in the still may not be known yet. */
interface Laid {
  from: Place;
  to: Place;
  at: { area: number; part: number };
}
/** What is pulled: a stroke that is painted, a shape that is laid, or a handle of one. */
type Pulled = { paints: true } | { laid: Laid } | { handle: Handle; shape: Shape };

function inFrame(point: Place): Place {
  const { x, y } = led(light.laid!.to_frame, point);
  return { x: x * 100, y: y * high.value };
}

function along(shape: Extract<Shape, { kind: "ellipse" }>, angle: number): Place {
  const { aspect } = light.laid!;
  const turned = (shape.angle_deg * Math.PI) / 180;
  const [across, down] = [Math.cos(angle) * shape.x_radius, (Math.sin(angle) * shape.y_radius) / aspect];
  return {
    x: shape.x + across * Math.cos(turned) - down * Math.sin(turned),
    y: shape.y + (across * Math.sin(turned) + down * Math.cos(turned)) * aspect,
  };
}

function outline(shape: Shape): string[] {
  if (shape.kind === "gradient") {
    const [from, to] = [inFrame(shape), inFrame({ x: shape.to_x, y: shape.to_y })];
    const [x, y] = [to.x - from.x, to.y - from.y];
    const length = Math.max(1e-6, Math.hypot(x, y));
    const beside = { x: (-y / length) * 300, y: (x / length) * 300 };
    return [
      ...[from, to].map((one) => `M${one.x - beside.x} ${one.y - beside.y}L${one.x + beside.x} ${one.y + beside.y}`),
      `M${from.x} ${from.y}L${to.x} ${to.y}`,
    ];
  }
  if (shape.kind !== "ellipse") return [];
  const points = Array.from({ length: 49 }, (_, step) => inFrame(along(shape, (step / 24) * Math.PI)));
  return [`M${points.map((one) => `${one.x} ${one.y}`).join("L")}Z`];
}

function handlesOf(shape: Shape, part: number): Handle[] {
  const of = (point: Place, name: string, words: string): Handle => ({ ...inFrame(point), part, name, words });
  if (shape.kind === "gradient")
    return [of(shape, "from", "where all of it works"), of({ x: shape.to_x, y: shape.to_y }, "to", "where it ends")];
  if (shape.kind === "ellipse")
    return [
      of(shape, "middle", "its middle"),
      of(along(shape, 0), "x", "its width, and how it is turned"),
      of(along(shape, Math.PI / 2), "y", "its height"),
    ];
  return [];
}

function movedTo(shape: Shape, name: string, to: Place): Shape {
  if (shape.kind === "gradient")
    return name === "from"
      ? { ...shape, x: round(to.x), y: round(to.y) }
      : { ...shape, to_x: round(to.x), to_y: round(to.y) };
  if (shape.kind !== "ellipse") return shape;
  if (name === "middle") return { ...shape, x: round(to.x), y: round(to.y) };
  const { aspect } = light.laid!;
  const [across, down] = [to.x - shape.x, (to.y - shape.y) / aspect];
  const reach = Math.max(0.01, Math.hypot(across, down));
  if (name === "y") return { ...shape, y_radius: round(Math.min(4, reach * aspect)) };
  return {
    ...shape,
    x_radius: round(Math.min(4, reach)),
    angle_deg: Math.round((Math.atan2(down, across) * 1800) / Math.PI) / 10,
  };
}

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
      attempt(movedTo(shape, handle.name, to), { area: light.area!, part: handle.part });
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
  attempt(movedTo(shapes.value[handle.part]!, handle.name, to), { area: light.area!, part: handle.part });
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
