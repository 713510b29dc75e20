import { useLocalStorage } from "@vueuse/core";
import { defineStore } from "pinia";
import { computed, shallowRef, watch } from "vue";

import { api, type Plot } from "../../api/client";
import { useDerived } from "../../stores/derived";
import { useShot } from "../../stores/shot";

/** The two measures that run down the tail while a shot is checked. */
export const usePlots = defineStore("plots", () => {
  const shot = useShot();
  const chosen = useLocalStorage<string[]>("plots-beside", ["brightness", "sharpness"]);
  const all = shallowRef<Plot[]>();
  const shown = computed(() => chosen.value.map((name) => all.value?.find((plot) => plot.name === name)));
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
    useDerived("plots", (of) => api.plots(of.shot), {
      into: all,
      ofDecisions: false,
      also: () => shot.decisions?.check.rated,
    });
  }

  watch(
    () => shot.shot?.id,
    () => (all.value = undefined),
  );

  return { chosen, all, shown, values, follow };
});
