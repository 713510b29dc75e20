import { sheetOf, type ShotStep } from "../shotStep";
import { useCheckTail } from "./tail";

const load = () => import("./CheckSheet.vue");

export const check: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 430,
  tailWidth: 230,
  stage: () => ({ shows: "shot" }),
  tail: useCheckTail,
};
