import { sheetOf, type ShotStep } from "../shotStep";
import { usePaceTail } from "./tail";

const load = () => import("./PaceSheet.vue");

export const pace: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 360,
  tailWidth: 196,
  stage: () => ({ shows: "frames" }),
  tail: usePaceTail,
};
