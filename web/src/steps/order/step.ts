import type { ShotStep } from "../shotStep";
import { useOrderTail } from "./tail";

export const order: ShotStep = {
  load: () => import("./OrderSheet.vue"),
  width: 540,
  stage: () => ({ shows: "stills" }),
  tail: useOrderTail,
};
