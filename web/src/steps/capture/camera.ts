import { ref, shallowRef, watch, type Ref } from "vue";

import { api, Problem, type CameraState, type Captured } from "../../api/client";
import { onTold } from "../../api/events";
import { newest } from "../../api/newest";
import type { useAttempt } from "../../parts/sentences";
import type { Wish } from "./wish";

/** The camera that is wished for, and the shoot it is at, as they are told; a camera may be slow, or away. */
export function useCamera(
  shotId: () => number | undefined,
  wish: Ref<Wish>,
  attempt: ReturnType<typeof useAttempt>["attempt"],
) {
  const state = shallowRef<CameraState>();
  const captured = shallowRef<Captured | null>(null);
  const away = ref("");

  const askForState = newest(
    (key: string) => api.cameraState(key),
    (found) => (state.value = found),
  );

  async function lookAtCamera(): Promise<void> {
    if (!wish.value.camera) return;
    try {
      away.value = "";
      await askForState(wish.value.camera);
    } catch (error) {
      state.value = undefined;
      away.value = error instanceof Problem ? error.message : String(error);
    }
  }

  function expose(exposure_s: number, sensitivity: number): Promise<void> {
    return attempt(async () => {
      const settings = await api.setCamera(wish.value.camera, exposure_s, sensitivity);
      if (state.value) state.value = { ...state.value, settings };
    });
  }

  const askForCapture = newest(
    (id: number) => api.captureOf(id),
    (found) => {
      askForState.overtake();
      captured.value = found;
      if (found) wish.value.camera = found.capture.camera;
      if (found?.camera) state.value = found.camera;
      away.value = found?.camera_away ?? "";
    },
  );

  async function load(): Promise<void> {
    const id = shotId();
    if (id) await askForCapture(id);
  }

  const act = (work: () => Promise<unknown>) =>
    attempt(async () => {
      await work();
      await load();
    });

  /**
   * Loading while loading would pile up behind a slow camera: one at a time, and once more if something came meanwhile.
   */
  let loading = false;
  let again = false;
  async function follows(): Promise<void> {
    if (loading) return void (again = true);
    loading = true;
    do {
      again = false;
      await attempt(load);
    } while (again);
    loading = false;
  }

  /** Let go of the shoot that was shown, whatever is on its way of it. */
  function leave(): void {
    askForCapture.overtake();
    captured.value = null;
  }

  watch(
    () => wish.value.camera,
    () => void lookAtCamera(),
  );
  onTold("capture", (told) => (told.shot_id === undefined || told.shot_id === shotId()) && void follows());
  onTold("job", (job) => job.kind === "capture" && job.shot_id === shotId() && void follows());

  return { state, captured, away, expose, load, act, leave };
}
