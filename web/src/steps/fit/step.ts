import { sheetOf, type ShotStep } from "../shotStep";
import { useFitStage } from "./stage";
import { useFitTail } from "./tail";

const load = () => import("./FitSheet.vue");

export const fit: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 360,
  stage: useFitStage,
  tail: useFitTail,
};
