import { defineAsyncComponent } from "vue";

import { addresses, api } from "../../api/client";
import type { Place } from "../../parts/drag";
import { useSentences } from "../../parts/sentences";
import { useFrames } from "../../stage/frames";
import type { StepStage } from "../../stage/stepStage";
import { useShot } from "../../stores/shot";
import { useAreas } from "./areas";
import { useLight } from "./light";
import WithoutLight from "./WithoutLight.vue";

const AreaTool = defineAsyncComponent(() => import("./AreaTool.vue"));
const RegionTool = defineAsyncComponent(() => import("./RegionTool.vue"));

/**
 * Areas are drawn over the frame, what they cover is masked, and a click says what is grey or which colour is meant.
 */
export function useLightStage(): StepStage {
  const shot = useShot();
  const frames = useFrames();
  const light = useLight();
  const areas = useAreas();
  const { said, refused } = useSentences();

  /** Balance colours so that what was clicked on is grey. */
  async function makeGrey({ x, y }: Place): Promise<void> {
    const found = await api.neutral(shot.shot!.id, shot.shownStill!.position, x, y, shot.revision, shot.tried);
    await light.setValues({ warmth: found.warmth, tint: found.tint });
    if (!found.reached) said("This spot is too strong a colour to be made grey; it was brought as near as it goes.");
  }

  /** Let the area that is worked on have only colours like the one that was clicked on. */
  async function limitToHue({ x, y }: Place): Promise<void> {
    const { hue } = await api.hue(shot.shot!.id, shot.shownStill!.position, x, y, shot.revision, shot.tried);
    await areas.setMask({ hue: { hue, width: 40 } });
  }

  return {
    shows: "frames",
    looks: ["frame", "three"],
    bar: WithoutLight,
    press(at) {
      const wanted = frames.drawing === "grey" ? makeGrey : frames.drawing === "hue" ? limitToHue : undefined;
      if (!wanted) return false;
      frames.drawing = undefined;
      wanted(at).catch(refused);
      return true;
    },
    over() {
      if (light.without) return undefined;
      if (light.section === "areas") return AreaTool;
      return light.section === "even" && (light.light.even.region || frames.drawing === "region")
        ? RegionTool
        : undefined;
    },
    overlayMask(width) {
      const still = shot.shownStill;
      if (light.without || !light.overlayMask || !shot.shot || !still) return undefined;
      const kind = light.overlayMask === "area" ? light.area : light.overlayMask;
      return kind === undefined
        ? undefined
        : addresses.overlayMask(shot.shot.id, still, String(kind), shot.revision, shot.tried, width);
    },
    instead(width, quickly) {
      const still = shot.shownStill;
      if (!light.without || !shot.shot || !still) return undefined;
      return addresses.framed(shot.shot.id, still, shot.revision, { ...shot.tried, light: {} }, width, quickly);
    },
    flag: () => (light.without ? "as it was shot" : undefined),
    key(event) {
      if (event.key.toLowerCase() !== "l") return false;
      light.without = !light.without;
      return true;
    },
  };
}
