import type { ShotStep } from "../shotStep";
import DustTool from "./DustTool.vue";
import { useDust } from "./dust";
import { useCheckTail } from "./tail";

export const check: ShotStep = {
  load: () => import("./CheckSheet.vue"),
  width: 430,
  tailWidth: 230,
  stage: () => {
    const dust = useDust();
    return { shows: "shot", tool: () => (dust.isMarking ? DustTool : undefined) };
  },
  tail: useCheckTail,
};
