/** Write an exposure as cameras do: `1/250 s`, `0.4 s`, `13 s`. */
export function exposureText(seconds: number): string {
  if (seconds < 0.29) return `1/${Math.round(1 / seconds)} s`;
  return `${Number(seconds.toPrecision(2))} s`;
}
