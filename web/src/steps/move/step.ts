import type { ShotStep } from "../shotStep";
import { useMoveStage } from "./stage";
import { useMoveTail } from "./tail";

export const move: ShotStep = {
  load: () => import("./MoveSheet.vue"),
  width: 360,
  stage: useMoveStage,
  tail: useMoveTail,
};
