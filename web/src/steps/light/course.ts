/** Between what a plot of light shows it, in stops. */
export interface Ends {
  least: number;
  most: number;
}

/** Return the ends that show all of some values, with a margin: a share of what they span, but `atLeast` so much. */
export function endsOf(every: readonly number[], atLeast: number, share: number): Ends {
  const [least, most] = [Math.min(...every), Math.max(...every)];
  const margin = Math.max(atLeast, (most - least) * share);
  return { least: least - margin, most: most + margin };
}

/** Return the path of a course over a plot's width, one value after another. */
export function lineOf(values: readonly number[], { least, most }: Ends, width: number, height: number): string {
  return values
    .map((value, place) => {
      const across = ((place + 0.5) / values.length) * width;
      return `${place ? "L" : "M"}${across.toFixed(1)} ${((1 - (value - least) / (most - least)) * height).toFixed(1)}`;
    })
    .join("");
}

/** Return a value as it may be drawn: in stops from full light, with two places. */
export function within(value: number): number {
  return Math.round(Math.max(-20, Math.min(5, value)) * 100) / 100;
}
