import { defineAsyncComponent } from "vue";

import { plainTail } from "../../tail/columns";
import type { ShotStep } from "../shotStep";

const load = () => import("./GatherSheet.vue");

export const gather: ShotStep = {
  sheet: defineAsyncComponent(load),
  load,
  width: 420,
  stage: () => ({ shows: "stills" }),
  tail: () => plainTail,
};
