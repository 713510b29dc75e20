import { defineAsyncComponent } from "vue";

import type { ShotStep } from "../shotStep";
import { usePaceTail } from "./tail";

export const pace: ShotStep = {
  sheet: defineAsyncComponent(() => import("./PaceSheet.vue")),
  width: 360,
  tailWidth: 196,
  stage: () => ({ shows: "frames" }),
  tail: usePaceTail,
};
