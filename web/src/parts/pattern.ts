import type { PatternPart } from "../api/client";

/** The parts a new name can be put together from, as people call them. */
export const partNames: Record<PatternPart["kind"], string> = {
  text: "text",
  counter: "counter",
  shot: "shot name",
  date: "capture date",
  time: "capture time",
  camera: "camera",
  name: "old name",
  number: "old number",
};

export function part(kind: PatternPart["kind"], text = kind === "text" ? "_" : ""): PatternPart {
  return { kind, text, start: 1, step: 1, digits: 0 };
}

/** One name, an underscore, one number: what programs further down the line understand best. */
export function plainPattern(): PatternPart[] {
  return [part("shot"), part("text"), part("counter")];
}
