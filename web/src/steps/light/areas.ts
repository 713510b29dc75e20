import { defineStore } from "pinia";
import { computed, ref, shallowRef } from "vue";

import { api, type Area, type Laid } from "../../api/client";
import type { Place } from "../../parts/drag";
import { putAt } from "../../parts/sorting";
import { useFrames } from "../../stage/frames";
import { useShot } from "../../stores/shot";
import { useLight } from "./light";
import { plain, type Grade } from "./settings";

export type Part = Area["mask"]["parts"][number];
export type Shape = Part["shape"];
export type Kind = Shape["kind"];
/** What an area is laid with by hand. */
export const tools = [
  { kind: "gradient", words: "a gradient" },
  { kind: "ellipse", words: "an ellipse" },
  { kind: "brush", words: "a brush" },
] as const;
const names: Record<Kind, string> = {
  gradient: "gradient",
  ellipse: "ellipse",
  brush: "painted",
  everything: "colours",
};

/** Return a point of the frame as a point of the still, both in shares, or the other way round. */
export function led([a, b, c, d, e, f]: Laid["to_still"], { x, y }: Place): Place {
  return { x: a! * x + b! * y + c!, y: d! * x + e! * y + f! };
}

/** A shape as it is dragged from one point of the still to another. */
export function dragged(kind: "gradient" | "ellipse", from: Place, to: Place): Shape {
  if (kind === "gradient") return { kind, x: round(from.x), y: round(from.y), to_x: round(to.x), to_y: round(to.y) };
  const [x_radius, y_radius] = [Math.max(0.01, Math.abs(to.x - from.x)), Math.max(0.01, Math.abs(to.y - from.y))];
  return {
    kind,
    x: round(from.x),
    y: round(from.y),
    x_radius: round(x_radius),
    y_radius: round(y_radius),
    angle_deg: 0,
    softness: 0.4,
  };
}

export function round(value: number): number {
  return Math.round(value * 10000) / 10000;
}

/** Areas of the picture: which is worked on, and what a drag on the stage lays now. */
export const useAreas = defineStore("areas", () => {
  const shot = useShot();
  const light = useLight();
  const frames = useFrames();
  /** What a drag lays: into the area that is worked on, or a new one. */
  const laying = shallowRef<{ kind: Exclude<Kind, "everything">; takesAway: boolean; isNew: boolean }>();
  const brush = ref({ width: 0.06, softness: 0.5, erases: false });
  let painting: Promise<void> = Promise.resolve();
  const mask = computed(() => light.worked?.mask);

  function neutral(): Grade {
    const settings = Object.keys(light.light).filter(
      (name) =>
        isSetting(light.light[name as keyof typeof light.light]) &&
        !["vignette", "noise", "colour_noise"].includes(name),
    );
    return {
      ...Object.fromEntries(settings.map((name) => [name, plain()])),
      pulls: [],
      hues: [],
      monochrome: false,
    } as unknown as Grade;
  }

  function isSetting(value: unknown): boolean {
    return typeof value === "object" && value !== null && "keyframes" in value;
  }

  function nameFor(kind: Kind): string {
    const taken = new Set(light.light.areas.map((one) => one.name));
    let number = 1;
    while (taken.has(number === 1 ? names[kind] : `${names[kind]} ${number}`)) number += 1;
    return number === 1 ? names[kind] : `${names[kind]} ${number}`;
  }

  function areaOf(part: Part): Area {
    return {
      name: nameFor(part.shape.kind),
      mask: { parts: [part], inverted: false, darkest: 0, brightest: 1, hue: null },
      grade: neutral(),
      is_on: true,
    };
  }

  /** Have the next drag on the stage lay a shape, or strokes be painted; again to leave that. */
  function lay(kind: Exclude<Kind, "everything">, isNew: boolean, takesAway = false): void {
    const same =
      laying.value?.kind === kind &&
      laying.value.isNew === isNew &&
      laying.value.takesAway === takesAway &&
      frames.drawing === "area";
    frames.show("frame");
    laying.value = same ? undefined : { kind, isNew, takesAway };
    frames.drawing = same ? undefined : "area";
    light.without = false;
  }

  /** The light with a shape in it that is being laid, and which area and part of it that is. */
  function withShape(shape: Shape, at?: { area: number; part: number }): { areas: Area[]; area: number; part: number } {
    const areas = light.light.areas;
    const place = at ?? begun();
    const part: Part = { shape, takes_away: laying.value?.takesAway ?? false };
    if (place.area >= areas.length) return { ...place, areas: [...areas, areaOf(part)] };
    const changed = areas.map((one, index) => (index === place.area ? withPart(one, part, place.part) : one));
    return { ...place, areas: changed };
  }

  /** Where a shape goes that is begun now: which area, and which part of it. */
  function begun(): { area: number; part: number } {
    const areas = light.light.areas;
    if (laying.value?.isNew || light.area === undefined) return { area: areas.length, part: 0 };
    return { area: light.area, part: areas[light.area]!.mask.parts.length };
  }

  function withPart(area: Area, part: Part, place: number): Area {
    const parts =
      place < area.mask.parts.length
        ? area.mask.parts.map((one, index) => (index === place ? { ...part, takes_away: one.takes_away } : one))
        : [...area.mask.parts, part];
    return { ...area, mask: { ...area.mask, parts } };
  }

  /** Keep a stroke over the frame: in the painted part of the area that is worked on, or a new one. */
  function paint(points: [number, number][]): Promise<void> {
    // One after another: a quick second stroke goes on where the first one was, and one that failed keeps none from
    // going on.
    const drawn = { of: shot.shot!.id, position: light.still!.position, points, ...brush.value };
    painting = painting.catch(() => undefined).then(() => paintNow(drawn));
    return painting;
  }

  async function paintNow({
    of,
    position,
    ...drawn
  }: { of: number; position: number; points: [number, number][] } & typeof brush.value): Promise<void> {
    if (shot.shot?.id !== of) return;
    const stroke = await api.stroke(of, position, { revision: shot.revision, change: { ...shot.tried }, ...drawn });
    if (shot.shot?.id !== of) return;
    const area = light.worked;
    const last = (area?.mask.parts.length ?? 0) - 1;
    const part = area?.mask.parts[last];
    const shape = part?.shape;
    const takesAway = laying.value?.takesAway ?? false;
    const goesOn =
      !laying.value?.isNew && light.area !== undefined && shape?.kind === "brush" && part?.takes_away === takesAway;
    const made = goesOn
      ? withShape({ kind: "brush", strokes: [...shape.strokes, stroke] }, { area: light.area!, part: last })
      : withShape({ kind: "brush", strokes: [stroke] });
    await shot.decide({ light: { areas: made.areas } });
    light.area = made.area;
    // What is painted next goes on where this was.
    laying.value = { kind: "brush", isNew: false, takesAway };
  }

  /** Make an area that only its colours or brightness bound. */
  async function addByColour(): Promise<void> {
    const made = withShapeNew({ kind: "everything" });
    await shot.decide({ light: { areas: made } });
    light.area = made.length - 1;
  }

  function withShapeNew(shape: Shape): Area[] {
    return [...light.light.areas, areaOf({ shape, takes_away: false })];
  }

  const setMask = (change: Partial<Area["mask"]>) =>
    light.set(`areas.${light.area}.mask`, { ...mask.value, ...change }, "");

  async function remove(place: number): Promise<void> {
    const left = light.light.areas.filter((_, index) => index !== place);
    light.area = undefined;
    await shot.decide({ light: { areas: left } });
  }

  /** Let an area work earlier, or later, than its neighbour. */
  async function move(place: number, by: number): Promise<void> {
    const { areas: now } = light.light;
    const areas = putAt(now, now[place], place + by);
    await shot.decide({ light: { areas } });
    light.area = place + by;
  }

  /** Whether this is what is being laid. */
  function isLaying(kind: Kind, isNew: boolean, takesAway: boolean): boolean {
    const now = laying.value;
    return frames.drawing === "area" && now?.kind === kind && now.isNew === isNew && now.takesAway === takesAway;
  }

  return { laying, isLaying, brush, mask, lay, begun, withShape, paint, addByColour, setMask, remove, move };
});
