import type { ShotStep } from "../shotStep";
import { useLightStage } from "./stage";
import { useLightTail } from "./tail";

export const light: ShotStep = {
  load: () => import("./LightSheet.vue"),
  width: 360,
  stage: useLightStage,
  tail: useLightTail,
};
