import { useDebounceFn } from "@vueuse/core";
import { computed, ref } from "vue";

import { api } from "../../api/client";
import { closer, moved } from "../../stage/framed/framing";
import { useFrames } from "../../stage/frames";
import type { Place } from "../../parts/drag";
import type { Grip } from "../../stage/stepStage";
import { useShot } from "../../stores/shot";

/** The shortest line that says how a picture leans, in pixels of the clip. */
const shortest = 20;

/** How the picture is moved in its frame by hand, and levelled along a line. */
export function useGrip(): Grip {
  const shot = useShot();
  const frames = useFrames();
  const fit = computed(() => shot.decisions!.fit);
  const line = ref<{ from: Place; to: Place }>();
  const keepSoon = useDebounceFn(() => void shot.settle(), 500);
  let dragged: { at: Place; fit: typeof fit.value } | undefined;

  async function level({ from, to }: NonNullable<typeof line.value>): Promise<void> {
    const { width, height } = fit.value.size;
    const ends: [number, number, number, number] = [from.x * width, from.y * height, to.x * width, to.y * height];
    if (Math.hypot(ends[2] - ends[0], ends[3] - ends[1]) < shortest) return;
    frames.drawing = undefined;
    const answer = await api.level(shot.shot!.id, ends, fit.value);
    await shot.decide({ fit: { level: answer.level } });
  }

  return {
    label: "The picture in its frame: drag it, turn the wheel to come closer, arrow keys move it by a pixel",
    line,
    press(at) {
      if (frames.drawing === "level") line.value = { from: at, to: at };
      else dragged = { at, fit: fit.value };
    },
    move(at) {
      if (line.value) line.value = { from: line.value.from, to: at };
      else if (dragged && shot.brief?.seen) {
        const by = {
          right: (at.x - dragged.at.x) * fit.value.size.width,
          down: (at.y - dragged.at.y) * fit.value.size.height,
        };
        shot.tryOut({ fit: moved(dragged.fit, shot.brief.seen, by) });
      }
    },
    release() {
      const drawn = line.value;
      line.value = undefined;
      if (drawn) void level(drawn);
      else if (dragged && dragged.fit !== fit.value) void shot.settle();
      dragged = undefined;
    },
    drop() {
      line.value = dragged = undefined;
      shot.drop();
    },
    wheel(turned, at) {
      if (!shot.brief?.seen || shot.fitOfBrief !== fit.value) return;
      shot.tryOut({ fit: closer(fit.value, shot.brief.seen, Math.exp(-turned * 0.0012), at) });
      void keepSoon();
    },
    nudge(right, down) {
      if (!shot.brief?.seen) return false;
      shot.tryOut({ fit: moved(fit.value, shot.brief.seen, { right, down }) });
      void keepSoon();
      return true;
    },
  };
}
