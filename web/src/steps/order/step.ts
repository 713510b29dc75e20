import { sheetOf, type ShotStep } from "../shotStep";
import { useOrderTail } from "./tail";

const load = () => import("./OrderSheet.vue");

export const order: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 540,
  stage: () => ({ shows: "stills" }),
  tail: useOrderTail,
};
