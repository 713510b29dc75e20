import { sheetOf, type ShotStep } from "../shotStep";
import { useMoveStage } from "./stage";
import { useMoveTail } from "./tail";

const load = () => import("./MoveSheet.vue");

export const move: ShotStep = {
  sheet: sheetOf(load),
  load,
  width: 360,
  stage: useMoveStage,
  tail: useMoveTail,
};
