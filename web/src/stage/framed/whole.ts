import { computed } from "vue";

import { addresses, type Fit } from "../../api/client";
import { useShot } from "../../stores/shot";
import { usePicture } from "../picture";

/** Of the fit, only what changes how a whole still looks; the frame moves without another picture. */
type Turned = { fit: Pick<Fit, "size" | "quarters" | "mirror" | "lens"> };

/** The shown still with all that lies around the frame, so many pixels wide. */
export function useWholeStill(width: number) {
  const shot = useShot();
  return useTurnedPicture((turned) =>
    shot.shownStill && shot.shot
      ? addresses.around(shot.shot.id, shot.shownStill, shot.revision, turned, width)
      : undefined,
  );
}

/** A picture that hangs on how the stills are turned, asked for again when that changes and not with every decision. */
export function useTurnedPicture(addressed: (turned: Turned) => string | undefined) {
  const shot = useShot();
  const turned = computed<Turned>(() => {
    const { quarters, mirror, lens, size } = shot.decisions!.fit;
    return { fit: { size, quarters, mirror, lens } };
  });
  const address = computed(() => addressed(turned.value));
  const steady = computed<string | undefined>((before) =>
    withoutRevision(address.value) === withoutRevision(before) ? before : address.value,
  );
  return { steady, ...usePicture(steady) };
}

function withoutRevision(address: string | undefined): string | undefined {
  return address?.replace(/revision=\d+&/, "");
}
