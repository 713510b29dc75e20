import { plainTail } from "../../tail/columns";
import type { ShotStep } from "../shotStep";

export const gather: ShotStep = {
  load: () => import("./GatherSheet.vue"),
  width: 420,
  stage: () => ({ shows: "stills" }),
  tail: () => plainTail,
};
