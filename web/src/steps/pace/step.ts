import type { ShotStep } from "../shotStep";
import { usePaceTail } from "./tail";

export const pace: ShotStep = {
  load: () => import("./PaceSheet.vue"),
  width: 360,
  tailWidth: 196,
  stage: () => ({ shows: "frames" }),
  tail: usePaceTail,
};
