import { defineAsyncComponent } from "vue";

import { plainTail } from "../../tail/columns";
import type { ShotStep } from "../shotStep";

const load = () => import("./EncodeSheet.vue");

export const encode: ShotStep = {
  sheet: defineAsyncComponent(load),
  load,
  width: 540,
  stage: () => ({ shows: "frames", clips: true }),
  tail: () => ({ ...plainTail, hasTimecode: true }),
};
