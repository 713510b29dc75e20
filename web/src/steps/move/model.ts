import { computed, ref, watch } from "vue";
import { defineStore } from "pinia";

import type { Decisions } from "../../api/client";
import { useClip } from "../../playback/clip";
import { useShot } from "../../stores/shot";

export type ModelLook = Decisions["move"]["model"];
export type Band = ModelLook["bands"][number];

/** What stays sharp of a place that looks like a model of it: decided, and which of its bands is worked on. */
export const useModel = defineStore("model", () => {
  const shot = useShot();
  const clip = useClip();
  const chosen = ref(0);
  const model = computed<ModelLook>(() => shot.decisions!.move.model);
  const band = computed<Band>(() => model.value.bands[chosen.value] ?? model.value.bands[0]!);

  function withBand(change: Partial<Band>): { move: { model: ModelLook } } {
    const bands = model.value.bands.map((one) => (one === band.value ? { ...one, ...change } : one));
    return { move: { model: { ...model.value, bands } } };
  }

  const attempt = (change: Partial<Band>) => shot.tryOut(withBand(change));
  const set = (change: Partial<Band>) => shot.decide(withBand(change));
  const setStrength = (strength: number) => shot.decide({ move: { model: { ...model.value, strength } } });
  const tryStrength = (strength: number) => shot.tryOut({ move: { model: { ...model.value, strength } } });

  /** Put the band where it is now at a time of the clip, so that it can be elsewhere then. */
  async function add(at: number): Promise<void> {
    const added: Band = { ...band.value, at: Math.round(at * 1000) / 1000 };
    const bands = [...model.value.bands.filter((one) => one.at !== added.at), added].sort(
      (one, other) => one.at - other.at,
    );
    await shot.decide({ move: { model: { ...model.value, bands } } });
    choose(bands.indexOf(added));
  }

  async function remove(place: number): Promise<void> {
    const bands = model.value.bands.filter((_, index) => index !== place);
    chosen.value = Math.max(0, Math.min(chosen.value, bands.length - 1));
    await shot.decide({ move: { model: { ...model.value, bands } } });
  }

  /** Work on a band, and look at the frame it is for. */
  function choose(place: number): void {
    chosen.value = place;
    const at = model.value.bands[place]?.at;
    if (at !== undefined && clip.playback) clip.goTo(Math.round(at * (clip.playback.frames - 1)));
  }

  watch(
    () => [shot.shot?.id, model.value?.bands.length] as const,
    ([, count]) => (chosen.value = Math.max(0, Math.min(chosen.value, (count ?? 1) - 1))),
  );

  return { chosen, model, band, attempt, set, setStrength, tryStrength, add, remove, choose };
});
