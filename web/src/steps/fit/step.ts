import type { ShotStep } from "../shotStep";
import { useFitStage } from "./stage";
import { useFitTail } from "./tail";

export const fit: ShotStep = {
  load: () => import("./FitSheet.vue"),
  width: 360,
  stage: useFitStage,
  tail: useFitTail,
};
