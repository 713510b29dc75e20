import { sheetOf, type ShotStep } from "../shotStep";
import { useLightStage } from "./stage";
import { useLightTail } from "./tail";

const load = () => import("./LightSheet.vue");

export const light: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 360,
  stage: useLightStage,
  tail: useLightTail,
};
