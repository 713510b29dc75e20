import type { Fit, Seen } from "../../api/client";

export interface Move {
  /** In pixels of the clip. */
  right: number;
  down: number;
}

/**
 * Return the shares that move the picture inside the frame by so many pixels of the clip: where it is larger than the
 * frame another part of it is kept, where it is smaller it lies elsewhere in the frame.
 */
export function moved(fit: Fit, seen: Seen, { right, down }: Move): Pick<Fit, "across" | "down"> {
  const turn = (fit.level * Math.PI) / 180;
  const along = { across: right * Math.cos(turn) + down * Math.sin(turn), down: down * Math.cos(turn) - right * Math.sin(turn) };
  const [roomAcross, roomDown] = seen.room as [number, number];
  const [, , wide, high] = seen.target as [number, number, number, number];
  return {
    across: shifted(fit.across, along.across, roomAcross, right, (1 - wide) * fit.size.width),
    down: shifted(fit.down, along.down, roomDown, down, (1 - high) * fit.size.height),
  };
}

function shifted(share: number, by: number, room: number, inFrame: number, empty: number): number {
  if (room > 0.5) return within(share - by / room);
  return empty > 0.5 ? within(share + inFrame / empty) : share;
}

/** Return the fit once it is looked at `closer` times as close, the point under the pointer (shares of the frame) staying. */
export function closer(fit: Fit, seen: Seen, by: number, at: { across: number; down: number }): Pick<Fit, "zoom" | "across" | "down"> {
  const least = fit.how === "contain" ? 0.1 : 1;
  const zoom = Math.max(least, Math.min(20, fit.zoom * by));
  if (fit.level || fit.how === "contain") return { zoom, across: fit.across, down: fit.down };
  const [roomAcross, roomDown] = seen.room as [number, number];
  const factor = zoom / fit.zoom;
  return {
    zoom,
    across: staying(fit.across, roomAcross / fit.size.width, factor, at.across),
    down: staying(fit.down, roomDown / fit.size.height, factor, at.down),
  };
}

/** `room` is how far the picture can be moved, in widths (or heights) of the frame. */
function staying(share: number, room: number, factor: number, at: number): number {
  const left = (room * share + at) * factor - at;
  const newRoom = (room + 1) * factor - 1;
  return newRoom > 1e-6 ? within(left / newRoom) : share;
}

export function within(share: number): number {
  return Math.max(0, Math.min(1, share));
}
