import { plainTail } from "../../tail/columns";
import type { ShotStep } from "../shotStep";

export const encode: ShotStep = {
  load: () => import("./EncodeSheet.vue"),
  width: 540,
  stage: () => ({ shows: "frames", clips: true }),
  tail: () => ({ ...plainTail, hasTimecode: true }),
};
