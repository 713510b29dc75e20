/** Write seconds for reading in a table: `0.4 s`, `12 s`, `4 min`, `1 h 30`, `2 days`. */
export function secondsText(seconds: number): string {
  if (seconds < 60) return `${Number(seconds.toPrecision(2))} s`;
  if (seconds < 3600) return `${Math.round(seconds / 6) / 10} min`;
  if (seconds < 48 * 3600) return `${Math.round(seconds / 360) / 10} h`;
  return `${Math.round(seconds / 86400)} days`;
}
