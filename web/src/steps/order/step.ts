import { defineAsyncComponent } from "vue";

import type { ShotStep } from "../shotStep";
import { useOrderTail } from "./tail";

const load = () => import("./OrderSheet.vue");

export const order: ShotStep = {
  sheet: defineAsyncComponent(load),
  load,
  width: 540,
  stage: () => ({ shows: "stills" }),
  tail: useOrderTail,
};
