import type { Title } from "../../api/client";

/** A new title over a part, or the whole reel: a plain one is large and at the bottom, live text small in a corner. */
export function newTitle(id: number, kind: Title["kind"], part: number | null, rate: number): Title {
  const isText = kind === "text";
  const fade = isText ? Math.round(rate / 2) : 0;
  return {
    ...{ id, part, kind, text: isText ? "Title" : "", picture: null },
    ...{ face: isText ? "plain" : "typewriter", size: isText ? 0.09 : 0.045, colour: "#ffffff", shade: "soft" },
    ...{ place: isText ? "bottom" : "top right", x: 0.5, y: 0.5 },
    ...{ first: 0, frames: null, fade_in: fade, fade_out: fade },
  };
}
