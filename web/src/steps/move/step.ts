import { defineAsyncComponent } from "vue";

import type { ShotStep } from "../shotStep";
import { useMoveStage } from "./stage";
import { useMoveTail } from "./tail";

export const move: ShotStep = {
  sheet: defineAsyncComponent(() => import("./MoveSheet.vue")),
  width: 360,
  stage: useMoveStage,
  tail: useMoveTail,
};
