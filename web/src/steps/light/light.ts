import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import {
  api,
  type Circle,
  type Clipping,
  type Laid,
  type LightCourse,
  type ShotCamera,
  type Tone,
} from "../../api/client";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";
import { plain, settingAt, withAt, type Grade, type Light } from "./settings";

export const sections = ["even", "brightness", "colour", "surface", "areas", "looks"] as const;
export type Section = (typeof sections)[number];

/** What light is decided, tried and measured: settings at the still that is looked at, courses, curve and colours. */
export const useLight = defineStore("light", () => {
  const shot = useShot();
  const section = ref<Section>("even");
  /** The area that is worked on, by its place; without one it is the whole picture. */
  const area = ref<number>();
  const course = shallowRef<LightCourse>();
  const tone = shallowRef<Tone>();
  const clipping = shallowRef<Clipping>();
  const circle = shallowRef<Circle>();
  const camera = shallowRef<ShotCamera>();
  const laid = shallowRef<Laid>();
  /** Whether what the stage shows is the shot's light as it is. */
  const without = ref(false);
  /** What is laid over the stage: where an area is, what is clipped, where sharpening works. */
  const overlayMask = ref<"area" | "clipped" | "sharpening">();
  const light = computed(() => shot.decisions!.light);
  const still = computed(() => shot.shownStill);
  const worked = computed(() => (area.value === undefined ? undefined : light.value.areas[area.value]));
  const grade = computed<Grade>(() => worked.value?.grade ?? light.value);
  const begin = computed(() => (worked.value ? `areas.${area.value}.grade.` : ""));

  /** What a setting of the whole light is at the still that is looked at. */
  function valueAt(path: string): number {
    const { value, keyframes } = settingAt(light.value, path);
    if (!keyframes.length) return value;
    if (keyframes.length === 1) return keyframes[0]!.value;
    return (
      keyframes.find((one) => one.still === still.value?.id)?.value ??
      course.value?.changing[path]?.[shot.shown] ??
      keyframes[0]!.value
    );
  }

  /** The same of a setting of what is worked on. */
  const valueOf = (name: string) => valueAt(begin.value + name);

  function changedAt(before: Light, path: string, value: number): Light {
    const { value: kept, keyframes } = settingAt(before, path);
    const id = still.value?.id;
    if (!keyframes.length || !id) return withAt(before, path, plain(value));
    const others = keyframes.filter((one) => one.still !== id);
    return withAt(before, path, { value: kept, keyframes: [...others, { still: id, value }] });
  }

  function changed(values: Record<string, number>, from: string): Light {
    return Object.entries(values).reduce((before, [name, value]) => changedAt(before, from + name, value), light.value);
  }

  const tryValues = (values: Record<string, number>, from = begin.value) =>
    shot.tryOut({ light: changed(values, from) });
  const setValues = (values: Record<string, number>, from = begin.value) =>
    shot.decide({ light: changed(values, from) });

  /** Decide, or only try, anything else of what is worked on. */
  const set = (name: string, value: unknown, from = begin.value) =>
    shot.decide({ light: withAt(light.value, from + name, value) });
  const attempt = (name: string, value: unknown, from = begin.value) =>
    shot.tryOut({ light: withAt(light.value, from + name, value) });

  /** Let a setting change over the shot, from what it is at this still, or be what it is here everywhere. */
  function toggleChanging(path: string): Promise<void> {
    const here = valueAt(path);
    const id = still.value?.id;
    const begins = !settingAt(light.value, path).keyframes.length && id;
    return set(path, { value: here, keyframes: begins ? [{ still: id, value: here }] : [] }, "");
  }

  function removeKeyframe(path: string, id: number): Promise<void> {
    const { value, keyframes } = settingAt(light.value, path);
    const left = keyframes.filter((one) => one.still !== id);
    return set(path, { value: left.length ? value : keyframes[0]!.value, keyframes: left }, "");
  }

  watch(
    () => shot.shot?.id,
    () => {
      course.value = tone.value = clipping.value = circle.value = camera.value = laid.value = undefined;
      area.value = overlayMask.value = undefined;
      without.value = false;
    },
  );
  watch(
    () => light.value?.areas.length,
    (count) => {
      if (area.value !== undefined && area.value >= (count ?? 0)) area.value = undefined;
    },
  );

  /** Ask anew whenever what is shown or decided changes, as long as somebody looks. */
  function follow(): void {
    const on =
      (...sections: Section[]) =>
      () =>
        sections.includes(section.value);
    useDerived("course of light", (of) => api.lightCourse(of.shot, of.revision, of.change), { into: course });
    useDerived("tone", (of) => api.tone(of.shot, of.still, of.revision, of.change, area.value), {
      ...{ into: tone, ofStill: true, wanted: on("brightness"), also: () => area.value },
      ...{ when: "at once", every: 300 },
    });
    useDerived("clipping", (of) => api.clipping(of.shot, of.still, of.revision, of.change), {
      ...{ into: clipping, ofStill: true, wanted: on("brightness") },
    });
    useDerived("circle of hues", (of) => api.circle(of.shot, of.still, of.revision, of.change), {
      ...{ into: circle, ofStill: true, wanted: on("colour") },
    });
    useDerived("how it is laid", (of) => api.laid(of.shot, of.still, of.revision, of.change), {
      ...{ into: laid, ofStill: true, wanted: on("areas", "even") },
    });
    useDerived("camera", (of) => api.camera(of.shot), { into: camera, ofDecisions: false });
  }

  return {
    ...{
      section,
      area,
      course,
      tone,
      clipping,
      circle,
      camera,
      laid,
      without,
      overlayMask,
      light,
      still,
      worked,
      grade,
      begin,
    },
    ...{ valueAt, valueOf, tryValues, setValues, set, attempt, toggleChanging, removeKeyframe, follow },
  };
});
