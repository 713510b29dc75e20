import { useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { ref, shallowRef, watch } from "vue";

import { api, type DustPlace } from "../../api/client";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";

type Spots = Awaited<ReturnType<typeof api.dust>>;

export const NARROWEST = 0.003;
export const WIDEST = 0.08;

/** Dust on the sensor: the spots that are removed from the shot, and marking another one. */
export const useDust = defineStore("dust", () => {
  const shot = useShot();
  const isMarking = ref(false);
  const width = useLocalStorage("dust-width", 0.015);
  const spots = shallowRef<Spots>();

  /** Ask for the spots as long as somebody looks at them. */
  function follow(): void {
    useDerived("dust", (of) => api.dust(of.shot), {
      into: spots,
      ofDecisions: false,
      also: () => [shot.revision, shot.decisions?.check.dust.length],
      wanted: () => (shot.decisions?.check.dust.length ?? 0) > 0,
    });
  }

  async function remove(x: number, y: number): Promise<void> {
    const place = { x, y, width: width.value };
    await shot.change((id, seen) => api.removeDust(id, seen, place));
  }

  const bringBack = ({ x, y, width }: DustPlace) =>
    shot.change((id, seen) => api.bringDustBack(id, seen, { x, y, width }));

  function widen(by: number): void {
    width.value = Math.min(WIDEST, Math.max(NARROWEST, width.value * by));
  }

  watch(
    () => shot.shot?.id,
    () => {
      isMarking.value = false;
      spots.value = undefined;
    },
  );

  return { isMarking, width, spots, follow, remove, bringBack, widen };
});
