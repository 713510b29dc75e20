import { defineAsyncComponent } from "vue";

import type { ShotStep } from "../shotStep";
import { useMoveStage } from "./stage";
import { useMoveTail } from "./tail";

const load = () => import("./MoveSheet.vue");

export const move: ShotStep = {
  sheet: defineAsyncComponent(load),
  load,
  width: 360,
  stage: useMoveStage,
  tail: useMoveTail,
};
