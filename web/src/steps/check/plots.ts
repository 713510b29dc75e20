import { useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, watch } from "vue";

import { useShot } from "../../stores/shot";

/** The two measures that run down the tail while a shot is checked. */
export const usePlots = defineStore("plots", () => {
  const shot = useShot();
  const chosen = useLocalStorage<string[]>("plots-beside", ["brightness", "sharpness"]);
  const shown = computed(() => chosen.value.map((name) => shot.plots.find((plot) => plot.name === name)));
  /** What each of them is at the still that is looked at. */
  const values = computed(() =>
    shown.value.map((plot) => {
      const value = plot?.values[shot.shown];
      if (!plot || value === undefined) return "";
      return value === null ? "not known" : `${Number(value.toPrecision(3)).toLocaleString("en")} ${plot.unit}`;
    }),
  );

  /** Ask for the measures as long as somebody looks at them. */
  function follow(): void {
    watch(
      () => [shot.plots.length, shot.count] as const,
      ([there, count]) => void (!there && count && shot.plot()),
      { immediate: true },
    );
  }

  return { chosen, shown, values, follow };
});
