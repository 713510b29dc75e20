/** Plots that run down the tail, row by row beside the stills: SVG paths, small values at the left. */

import { asShare } from "../parts/shares";

/** How bright each still is, by stops rather than by raw light. */
export function brightnessPath(stills: readonly { luminance: number }[], width: number, height: number): string {
  const stops = stills.map((still) => Math.log2(Math.max(still.luminance, 1e-4)));
  return path(stops, 0.25, width, height);
}

/** How long after the one before each still was taken, by factors; a clock that goes back stands at the far left. */
export function intervalPath(stills: readonly { interval_s?: number | null }[], width: number, height: number): string {
  const intervals = stills.map((still) => Math.log2(Math.max(still.interval_s ?? stills[1]?.interval_s ?? 1, 0.05)));
  return path(intervals, 1, width, height);
}

/** Any measure, a value a still; where one is not known the line breaks off. */
export function measurePath(values: readonly (number | null)[], width: number, height: number): string {
  const known = values.filter((value) => value !== null).sort((one, other) => one - other);
  if (!known.length || !height) return "";
  // A few values far out would press all others into one line: they stop at the edge.
  const [low, high] = [known[Math.floor(known.length * 0.015)]!, known[Math.ceil(known.length * 0.985) - 1]!];
  const margin = Math.max((high - low) * 0.15, 1e-6);
  let pen = "M";
  return values
    .map((value, index) => {
      if (value === null) {
        pen = "M";
        return "";
      }
      const share = asShare((value - low + margin) / (high - low + 2 * margin));
      const point = `${pen}${(4 + share * width).toFixed(1)} ${(((index + 0.5) / values.length) * height).toFixed(1)}`;
      pen = "L";
      return point;
    })
    .join("");
}

/** Two measures of one kind on one scale, a value a still each. */
export function pathsTogether(
  one: readonly number[],
  other: readonly number[],
  width: number,
  height: number,
): [string, string] {
  const every = [...one, ...other];
  if (!every.length || !height) return ["", ""];
  const ends = { least: Math.min(...every) - 0.1, most: Math.max(...every) + 0.1 };
  return [between(one, ends, width, height), between(other, ends, width, height)];
}

function path(values: readonly number[], margin: number, width: number, height: number): string {
  if (!values.length || !height) return "";
  return between(values, { least: Math.min(...values) - margin, most: Math.max(...values) + margin }, width, height);
}

function between(
  values: readonly number[],
  { least, most }: { least: number; most: number },
  width: number,
  height: number,
): string {
  return values
    .map((value, index) => {
      const x = 4 + ((value - least) / (most - least)) * width;
      const y = ((index + 0.5) / values.length) * height;
      return `${index ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
    })
    .join("");
}

/**
 * The stills a second of the clip uses, as a bar beside them; what is shown on the way back stands beside the way
 * there.
 */
export interface SecondBand {
  second: number;
  left: number;
  top: number;
  width: number;
  height: number;
}

export function secondBands(
  clip: { stills: readonly number[]; seconds: readonly number[] },
  count: number,
  height: number,
  width: number,
): SecondBand[] {
  const row = height / Math.max(1, count);
  const turns =
    clip.stills.some((still, frame) => frame > 0 && still < clip.stills[frame - 1]!) &&
    clip.stills.some((still, frame) => frame > 0 && still > clip.stills[frame - 1]!);
  return clip.seconds
    .filter((first) => first < clip.stills.length)
    .map((first, second) => {
      const used = clip.stills.slice(first, clip.seconds[second + 1] ?? clip.stills.length);
      const [least, most] = [Math.min(...used), Math.max(...used)];
      const isBack = turns && used.at(-1)! < used[0]!;
      return {
        second,
        left: 1 + (isBack ? width / 2 : 0),
        top: least * row,
        width: (turns ? width / 2 : width) - 2,
        height: Math.max(1, (most - least + 1) * row - 0.5),
      };
    });
}

/** Positions in rising order, as the stretches in which each follows the one before. */
export function stretchesOf(positions: readonly number[]): { first: number; last: number }[] {
  const stretches: { first: number; last: number }[] = [];
  for (const position of positions) {
    const before = stretches.at(-1);
    if (before?.last === position - 1) before.last = position;
    else stretches.push({ first: position, last: position });
  }
  return stretches;
}
