/**
 * The frame of a file that belongs to one of another, both as far through; of as many frames it is the same.
 * A file of twice the frames passes by twice as fast, so a browser may not show each of them.
 */
export function partnerOf(frame: number, frames: number, others: number): number {
  return Math.min(others - 1, Math.floor(((2 * frame + 1) * others) / (2 * frames)));
}

export interface Pair<Picture> {
  frame: number;
  first: Picture;
  second: Picture;
}

/** Pictures of two files that play at once, put together by their frames: no picture is shown without its partner. */
export class Pairing<Picture> {
  private readonly held: [Map<number, Picture>, Map<number, Picture>] = [new Map(), new Map()];
  private readonly tolerance: number;

  constructor(
    private readonly frames: number,
    private readonly others: number,
    private readonly most = 8,
  ) {
    this.tolerance = Math.max(0, Math.ceil(others / frames) - 1);
  }

  /** Take a picture of the first or the second; returns the newest pair that is there now, if there is a new one. */
  take(side: 0 | 1, frame: number, picture: Picture): Pair<Picture> | undefined {
    const own = this.held[side];
    own.set(frame, picture);
    while (own.size > this.most) own.delete(Math.min(...own.keys()));
    for (const at of [...this.held[0].keys()].sort((one, other) => other - one)) {
      const found = this.partner(at);
      if (found === undefined) continue;
      const pair = { frame: at, first: this.held[0].get(at)!, second: this.held[1].get(found)! };
      for (const key of [...this.held[0].keys()]) if (key <= at) this.held[0].delete(key);
      // It may be the partner of the next one as well.
      for (const key of [...this.held[1].keys()]) if (key < found) this.held[1].delete(key);
      return pair;
    }
    return undefined;
  }

  /** By how many of its frames the first is ahead of the second, from the newest of each; 0 where one is missing. */
  ahead(first: number, second: number): number {
    return first - ((second + 0.5) * this.frames) / this.others + 0.5;
  }

  clear(): void {
    this.held.forEach((one) => one.clear());
  }

  private partner(frame: number): number | undefined {
    const wanted = partnerOf(frame, this.frames, this.others);
    const near = [...this.held[1].keys()].filter((one) => Math.abs(one - wanted) <= this.tolerance);
    return near.sort((one, other) => Math.abs(one - wanted) - Math.abs(other - wanted))[0];
  }
}
