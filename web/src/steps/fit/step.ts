import { defineAsyncComponent } from "vue";

import type { ShotStep } from "../shotStep";
import { useFitStage } from "./stage";
import { useFitTail } from "./tail";

export const fit: ShotStep = {
  sheet: defineAsyncComponent(() => import("./FitSheet.vue")),
  width: 360,
  stage: useFitStage,
  tail: useFitTail,
};
