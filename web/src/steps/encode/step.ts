import { defineAsyncComponent } from "vue";

import { plainTail } from "../../tail/columns";
import type { ShotStep } from "../shotStep";

export const encode: ShotStep = {
  sheet: defineAsyncComponent(() => import("./EncodeSheet.vue")),
  width: 540,
  stage: () => ({ shows: "frames", clips: true }),
  tail: () => ({ ...plainTail, hasTimecode: true }),
};
