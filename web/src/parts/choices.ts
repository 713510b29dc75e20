/** What the controls offer first; others can be typed. */
export const rates = [
  { rate: "6", name: "6", hint: "a strong stepping look" },
  { rate: "8", name: "8", hint: "stepping" },
  { rate: "10", name: "10", hint: "stepping" },
  { rate: "12", name: "12", hint: "as drawn animation often moves" },
  { rate: "15", name: "15", hint: "a little stepping, dreamlike" },
  { rate: "24000/1001", name: "23.976", hint: "24 as television in some countries counts it" },
  { rate: "24", name: "24", hint: "cinema" },
  { rate: "25", name: "25", hint: "television in most of the world" },
  { rate: "30000/1001", name: "29.97", hint: "30 as television in some countries counts it" },
  { rate: "30", name: "30", hint: "screens and phones" },
  { rate: "50", name: "50", hint: "smooth" },
  { rate: "60000/1001", name: "59.94", hint: "60 as television in some countries counts it" },
  { rate: "60", name: "60", hint: "very smooth" },
] as const;

export const directions = [
  { direction: "on", name: "first to last" },
  { direction: "back", name: "last to first" },
  { direction: "there and back", name: "there and back" },
] as const;

export const blends = [
  { blend: "none", name: "nothing", hint: "each frame is one still" },
  { blend: "neighbours", name: "neighbours blended", hint: "one still goes over into the next" },
  { blend: "shutter", name: "motion blur", hint: "skipped stills averaged, as a shutter would" },
  { blend: "motion", name: "in-betweens", hint: "worked out from how things move" },
] as const;

/** A rate as a number, for reading only. */
export function perSecond(rate: string): number {
  const [above, below] = rate.split("/").map(Number) as [number, number?];
  return above / (below ?? 1);
}
