import { plainTail } from "../../tail/columns";
import { sheetOf, type ShotStep } from "../shotStep";

const load = () => import("./GatherSheet.vue");

export const gather: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 420,
  stage: () => ({ shows: "stills" }),
  tail: () => plainTail,
};
