import type { Finding } from "../../api/client";

type Kind = Finding["kind"];

const byLight: Kind[] = [
  "misfire",
  "blocked view",
  "flicker",
  "lamp bands",
  "auto exposure",
  "blinking lamp",
  "exposure step",
  "light step",
];
const byTime: Kind[] = ["missing", "pause", "extra"];
/** Which findings show in which plot. */
const shownIn: Record<string, Kind[]> = {
  brightness: byLight,
  sharpness: ["soft", "lasting softness"],
  movement: ["knock", "shake", "by hand"],
  warmth: ["colour step"],
  exposure: ["auto exposure", "exposure step"],
  interval: byTime,
  "blown out": ["misfire"],
  black: ["misfire"],
};

/** The findings that show in a plot. */
export function foundIn(plot: string, findings: readonly Finding[]): Finding[] {
  return findings.filter((one) => shownIn[plot]?.includes(one.kind));
}
