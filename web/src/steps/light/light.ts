import { useThrottleFn } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, ref, shallowRef, watch } from "vue";

import { api, type Decisions, type LightCourse, type Tone } from "../../api/client";
import { useShot } from "../../stores/shot";

export type Light = Decisions["light"];
/** The settings that have a value, which may change over the shot. */
export type SettingName = Exclude<keyof Light, "even">;

/** What light is decided, tried and measured: settings at the still that is looked at, courses, the tone curve. */
export const useLight = defineStore("light", () => {
  const shot = useShot();
  const course = shallowRef<LightCourse>();
  const tone = shallowRef<Tone>();
  /** Whether what the stage shows is the shot's light as it is. */
  const without = ref(false);
  const light = computed(() => shot.decisions!.light);
  const still = computed(() => shot.shownStill);

  /** What a setting is at the still that is looked at. */
  function valueOf(name: SettingName): number {
    const { value, keyframes } = light.value[name];
    if (!keyframes.length) return value;
    if (keyframes.length === 1) return keyframes[0]!.value;
    return keyframes.find((one) => one.still === still.value?.id)?.value ?? course.value?.changing[name]?.[shot.shown] ?? keyframes[0]!.value;
  }

  function changed(name: SettingName, value: number): Partial<Light> {
    const before = light.value[name];
    const id = still.value?.id;
    if (!before.keyframes.length || !id) return { [name]: { value, keyframes: [] } };
    const others = before.keyframes.filter((one) => one.still !== id);
    return { [name]: { value: before.value, keyframes: [...others, { still: id, value }] } };
  }

  const tryValues = (values: Partial<Record<SettingName, number>>) => shot.tryOut({ light: changes(values) });
  const setValues = (values: Partial<Record<SettingName, number>>) => shot.decide({ light: changes(values) });

  function changes(values: Partial<Record<SettingName, number>>): Partial<Light> {
    const every = Object.entries(values) as [SettingName, number][];
    return Object.assign({}, ...every.map(([name, value]) => changed(name, value))) as Partial<Light>;
  }

  /** Let a setting change over the shot, from what it is at this still, or be what it is here everywhere. */
  function toggleChanging(name: SettingName): Promise<void> {
    const here = valueOf(name);
    const id = still.value?.id;
    const begins = !light.value[name].keyframes.length && id;
    return shot.decide({ light: { [name]: { value: here, keyframes: begins ? [{ still: id, value: here }] : [] } } });
  }

  function removeKeyframe(name: SettingName, id: number): Promise<void> {
    const { keyframes } = light.value[name];
    const left = keyframes.filter((one) => one.still !== id);
    const value = left.length ? light.value[name].value : keyframes[0]!.value;
    return shot.decide({ light: { [name]: { value, keyframes: left } } });
  }

  const lookAtCourse = useThrottleFn(
    async () => {
      const id = shot.shot?.id;
      if (!id) return;
      const asked = light.value;
      const found = await api.lightCourse(id, shot.revision, shot.tried);
      if (shot.shot?.id === id && light.value === asked) course.value = found;
    },
    150,
    true,
  );

  const lookAtTone = useThrottleFn(
    async () => {
      const id = shot.shot?.id;
      const at = still.value?.position;
      if (!id || at === undefined) return;
      const found = await api.tone(id, at, shot.revision, shot.tried);
      if (shot.shot?.id === id) tone.value = found;
    },
    150,
    true,
  );

  watch(
    () => shot.shot?.id,
    () => {
      course.value = tone.value = undefined;
      without.value = false;
    },
  );

  /** Ask anew whenever what is shown or decided changes, as long as somebody looks. */
  function follow(): void {
    watch(() => [light.value, shot.revision, shot.state] as const, () => void lookAtCourse(), { immediate: true });
    watch(() => [light.value, shot.revision, shot.state, shot.shown] as const, () => void lookAtTone(), { immediate: true });
  }

  return { course, tone, without, light, still, valueOf, tryValues, setValues, toggleChanging, removeKeyframe, follow };
});
