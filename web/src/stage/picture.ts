import { onScopeDispose, ref, shallowRef, watch, type Ref } from "vue";

import { problemOf, unreachable } from "../api/client";
import { onTold, openSoon } from "../api/events";

/**
 * How wide a picture is asked for that is shown so many pixels wide: in steps, so that resizing the window a little
 * does not fetch every picture again.
 */
export function widthFor(shown: number, step = 320, unknown = 960): number {
  return Math.min(2560, Math.ceil((shown * window.devicePixelRatio) / step) * step || unknown);
}

export interface Shown {
  address: string;
  source: string;
  timecode: string;
}

/**
 * Follow an address with the picture under it: the newest wanted picture wins, and at most one is fetched at a time,
 * so that scrubbing shows as many pictures as can come and never falls behind.
 */
export function usePicture(address: Ref<string | undefined>) {
  const shown = shallowRef<Shown>();
  const refusal = ref("");
  const waiting = ref(false);
  let busy = false;
  let ended = false;

  async function follow(): Promise<void> {
    if (busy) return;
    busy = true;
    refusal.value = "";
    while (!ended && address.value && address.value !== shown.value?.address) {
      const wanted = address.value;
      waiting.value = true;
      if (!(await fetchPicture(wanted))) break;
    }
    waiting.value = false;
    busy = false;
  }

  async function fetchPicture(wanted: string): Promise<boolean> {
    try {
      const response = await fetch(wanted);
      if (!response.ok) throw await problemOf(response);
      const source = URL.createObjectURL(await response.blob());
      const image = new Image();
      image.src = source;
      await image.decode();
      replace({ address: wanted, source, timecode: response.headers.get("Yarnkite-Timecode") ?? "" });
      return true;
    } catch (error) {
      if (wanted !== address.value) return true;
      const isAway = error instanceof TypeError;
      if (isAway) openSoon();
      refusal.value = error instanceof Error && !isAway ? error.message : unreachable;
      return false;
    }
  }

  function replace(next: Shown | undefined): void {
    const before = shown.value;
    shown.value = next;
    if (before) window.setTimeout(() => URL.revokeObjectURL(before.source), 1000);
  }

  watch(
    address,
    (now) => {
      if (now) void follow();
      else replace(undefined);
    },
    { immediate: true },
  );
  // A picture that could not be fetched is fetched once the program answers again.
  onTold("back", () => {
    if (refusal.value) void follow();
  });
  onScopeDispose(() => {
    ended = true;
    replace(undefined);
  });
  return { shown, refusal, waiting };
}
