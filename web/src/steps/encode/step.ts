import { plainTail } from "../../tail/columns";
import { sheetOf, type ShotStep } from "../shotStep";

const load = () => import("./EncodeSheet.vue");

export const encode: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 540,
  stage: () => ({ shows: "frames", clips: true }),
  tail: () => ({ ...plainTail, hasTimecode: true }),
};
