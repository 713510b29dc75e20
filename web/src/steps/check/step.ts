import type { ShotStep } from "../shotStep";
import { useCheckTail } from "./tail";

export const check: ShotStep = {
  load: () => import("./CheckSheet.vue"),
  width: 430,
  tailWidth: 230,
  stage: () => ({ shows: "shot" }),
  tail: useCheckTail,
};
