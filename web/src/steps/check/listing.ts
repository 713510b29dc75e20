/** How many things a list shows before the rest of each kind is counted. */
export const mostShown = 20;

/** How many of each kind a list shows: all where they fit, else the kinds take turns, the first ones first. */
export function shownOf(counts: readonly number[], most = mostShown): number[] {
  const shown = counts.map(() => 0);
  let left = most;
  while (left > 0 && shown.some((one, index) => one < counts[index]!)) {
    for (const [index, count] of counts.entries()) {
      if (left > 0 && shown[index]! < count) {
        shown[index]! += 1;
        left -= 1;
      }
    }
  }
  return shown;
}
