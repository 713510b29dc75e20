import { defineAsyncComponent } from "vue";

import type { ShotStep } from "../shotStep";
import { usePaceTail } from "./tail";

const load = () => import("./PaceSheet.vue");

export const pace: ShotStep = {
  sheet: defineAsyncComponent(load),
  load,
  width: 360,
  tailWidth: 196,
  stage: () => ({ shows: "frames" }),
  tail: usePaceTail,
};
