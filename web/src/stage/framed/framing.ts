import type { Fit, Seen } from "../../api/client";
import { asShare } from "../../parts/shares";

export interface Move {
  /** In pixels of the clip. */
  right: number;
  down: number;
}

/**
 * Return the shares that move the picture inside the frame by so many pixels of the clip: where it is larger than the
 * frame another part of it is kept, where it is smaller it lies elsewhere in the frame.
 */
export function moved(fit: Fit, seen: Seen, { right, down }: Move): Pick<Fit, "x" | "y"> {
  const turn = (fit.level * Math.PI) / 180;
  const along = {
    x: right * Math.cos(turn) + down * Math.sin(turn),
    y: down * Math.cos(turn) - right * Math.sin(turn),
  };
  const [roomAcross, roomDown] = seen.room as [number, number];
  const [, , wide, high] = seen.target as [number, number, number, number];
  return {
    x: shifted(fit.x, along.x, roomAcross, right, (1 - wide) * fit.size.width),
    y: shifted(fit.y, along.y, roomDown, down, (1 - high) * fit.size.height),
  };
}

function shifted(share: number, by: number, room: number, inFrame: number, empty: number): number {
  if (room > 0.5) return asShare(share - by / room);
  return empty > 0.5 ? asShare(share + inFrame / empty) : share;
}

/**
 * Return the fit once it is looked at `closer` times as close, the point under the pointer (shares of the frame)
 * staying.
 */
export function closer(fit: Fit, seen: Seen, by: number, at: { x: number; y: number }): Pick<Fit, "zoom" | "x" | "y"> {
  const least = fit.how === "contain" ? 0.1 : 1;
  const zoom = Math.max(least, Math.min(20, fit.zoom * by));
  if (fit.level || fit.how === "contain") return { zoom, x: fit.x, y: fit.y };
  const [roomAcross, roomDown] = seen.room as [number, number];
  const factor = zoom / fit.zoom;
  return {
    zoom,
    x: staying(fit.x, roomAcross / fit.size.width, factor, at.x),
    y: staying(fit.y, roomDown / fit.size.height, factor, at.y),
  };
}

/** `room` is how far the picture can be moved, in widths (or heights) of the frame. */
function staying(share: number, room: number, factor: number, at: number): number {
  const left = (room * share + at) * factor - at;
  const newRoom = (room + 1) * factor - 1;
  return newRoom > 1e-6 ? asShare(left / newRoom) : share;
}

/**
 * Return the shares that move the frame over a still that is shown whole, from a fit, by so much of the still's sides.
 * Where there is no room it stays.
 */
export function frameMoved(fit: Fit, seen: Seen, by: { x: number; y: number }): Partial<Pick<Fit, "x" | "y">> {
  const [from, to] = seen.corners as [[number, number], [number, number]];
  const source = Math.hypot((to[0] - from[0]) * seen.width, (to[1] - from[1]) * seen.height);
  const perPixel = source / (seen.target[2]! * fit.size.width);
  const [across, down] = [(seen.room[0]! * perPixel) / seen.width, (seen.room[1]! * perPixel) / seen.height];
  return {
    ...(across > 1e-4 ? { x: asShare(fit.x + by.x / across) } : {}),
    ...(down > 1e-4 ? { y: asShare(fit.y + by.y / down) } : {}),
  };
}
