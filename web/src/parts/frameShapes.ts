/** Shapes a frame can be looked at in before anything is shot: width to height. */
export const frameShapes: Readonly<Record<string, readonly [number, number]>> = {
  "16:9": [16, 9],
  "9:16": [9, 16],
  "1:1": [1, 1],
  "4:5": [4, 5],
  "4:3": [4, 3],
  "2.39:1": [2.39, 1],
};

/** The part of a view a frame shows that is as large as fits, in its middle: in shares of the view's sides. */
export function frameIn(view: readonly [number, number], frame: readonly [number, number]) {
  const [seen, wanted] = [view[0] / view[1], frame[0] / frame[1]];
  const width = Math.min(1, wanted / seen);
  const height = Math.min(1, seen / wanted);
  return { x: (1 - width) / 2, y: (1 - height) / 2, width, height };
}

/** What lies outside a frame, as a path in a square of 1000 that is stretched over the view. */
export function outsideOf({ x, y, width, height }: ReturnType<typeof frameIn>): string {
  const [left, top, wide, high] = [x, y, width, height].map((share) => share * 1000);
  return `M0 0H1000V1000H0Z M${left} ${top}h${wide}v${high}h-${wide}Z`;
}
