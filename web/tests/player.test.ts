import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";

import type { Playback } from "../src/api/client";
import { Player, type Listener } from "../src/playback/player";

/** The browser's media parts, as far as the player uses them, under the test's control. */
class Buffer extends EventTarget {
  timestampOffset = 0;
  readonly appended: { at: number; key: string }[] = [];
  readonly removed: [number, number][] = [];

  appendBuffer(data: ArrayBuffer): void {
    this.appended.push({ at: this.timestampOffset, key: new TextDecoder().decode(data) });
    queueMicrotask(() => this.dispatchEvent(new Event("updateend")));
  }

  remove(start: number, end: number): void {
    this.removed.push([start, end]);
    queueMicrotask(() => this.dispatchEvent(new Event("updateend")));
  }
}

class Source extends EventTarget {
  static newest: Source;
  readyState = "open";
  readonly buffer = new Buffer();

  constructor() {
    super();
    Source.newest = this;
  }

  addSourceBuffer(): Buffer {
    return this.buffer;
  }
}

class Video extends EventTarget {
  src = "";
  currentTime = 0;
  played = 0;
  onFrame: ((now: number, data: { mediaTime: number; presentedFrames: number }) => void) | undefined;

  requestVideoFrameCallback(call: Video["onFrame"]): void {
    this.onFrame = call;
  }

  play(): Promise<void> {
    this.played += 1;
    return Promise.resolve();
  }

  pause(): void {}
  removeAttribute(): void {}
}

function playback(name: string, segments = 30, frames = 10): Playback {
  const cut = Array.from({ length: segments }, (_, number) => ({
    key: `${name}-${number}`,
    first: number * frames,
    frames,
  }));
  return { frames: segments * frames, frames_per_second: 30, codec: "avc1", segments: cut } as unknown as Playback;
}

let fetched: string[];
let answer: (key: string) => Promise<Response>;
let video: Video;
let heard: { shown: [number, string][]; waiting: boolean[]; failed: string[]; outdated: number; began: number };
let player: Player<Playback>;

const settle = () => new Promise((resolve) => setTimeout(resolve, 5));
const listener: Listener<Playback> = {
  shown: (frame, of) => heard.shown.push([frame, of.segments[0]!.key]),
  began: () => (heard.began += 1),
  waiting: (waits) => heard.waiting.push(waits),
  failed: (sentence) => heard.failed.push(sentence),
  outdated: () => (heard.outdated += 1),
};

beforeEach(() => {
  fetched = [];
  heard = { shown: [], waiting: [], failed: [], outdated: 0, began: 0 };
  answer = async (key) => new Response(new TextEncoder().encode(key));
  vi.stubGlobal("MediaSource", Source);
  vi.stubGlobal("fetch", (address: string) => {
    const key = address.match(/segments\/(.*)\.mp4/)![1]!;
    fetched.push(key);
    return answer(key);
  });
  vi.spyOn(URL, "createObjectURL").mockReturnValue("blob:clip");
  vi.spyOn(URL, "revokeObjectURL").mockReturnValue();
  video = new Video();
  player = new Player(video as unknown as HTMLVideoElement, listener);
});

afterEach(() => {
  player.close();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe("the player", () => {
  test("begins in the middle of the wanted frame and asks only a few seconds ahead", async () => {
    player.play(playback("a"), 25);
    await settle();
    const { appended } = Source.newest.buffer;
    expect(appended[0]!.key).toBe("a-2");
    expect(video.currentTime).toBeCloseTo(appended[0]!.at + 5.5 / 30, 6);
    expect(video.played).toBe(1);
    // Four seconds at a third of a second each, and no more until that is played.
    expect(appended.length).toBeGreaterThanOrEqual(12);
    expect(appended.length).toBeLessThanOrEqual(14);
    expect(new Set(fetched).size).toBe(fetched.length);
  });

  test("lays segments end to end and begins again after the last", async () => {
    player.play(playback("a", 4), 0);
    await settle();
    const { appended } = Source.newest.buffer;
    expect(appended.slice(0, 6).map((one) => one.key)).toEqual(["a-0", "a-1", "a-2", "a-3", "a-0", "a-1"]);
    for (let place = 1; place < appended.length; place += 1) {
      expect(appended[place]!.at - appended[place - 1]!.at).toBeCloseTo(10 / 30, 6);
    }
  });

  test("tells the frame that is on the screen, of the playback it belongs to", async () => {
    player.play(playback("a"), 0);
    await settle();
    const { at } = Source.newest.buffer.appended[1]!;
    video.onFrame!(0, { mediaTime: at + 3 / 30 + 0.0001, presentedFrames: 1 });
    expect(heard.shown).toEqual([[13, "a-0"]]);
  });

  test("after an edit puts the new segments apart from the old and goes there", async () => {
    player.play(playback("a"), 0);
    await settle();
    const before = Source.newest.buffer.appended.at(-1)!;
    player.play(playback("b"), 100);
    await settle();
    const first = Source.newest.buffer.appended.find((one) => one.key.startsWith("b"))!;
    expect(first.key).toBe("b-10");
    expect(first.at).toBeCloseTo(before.at + 10 / 30 + 1, 6);
    expect(video.currentTime).toBeCloseTo(first.at + 0.5 / 30, 6);
  });

  test("does not show a segment of an older playback that arrives late", async () => {
    let late: (response: Response) => void = () => undefined;
    answer = (key) =>
      key.startsWith("a") ? new Promise((resolve) => (late = resolve)) : Promise.resolve(new Response(key));
    player.play(playback("a"), 0);
    await settle();
    player.play(playback("b"), 0);
    await settle();
    late(new Response("a-0"));
    await settle();
    expect(Source.newest.buffer.appended.every((one) => one.key.startsWith("b"))).toBe(true);
  });

  test("asks for a new playback where a segment is not known any more, and says what else went wrong", async () => {
    answer = async () => new Response(JSON.stringify({ code: "no_such_piece", detail: "gone" }), { status: 404 });
    player.play(playback("a"), 0);
    await settle();
    expect([heard.outdated, heard.failed]).toEqual([1, []]);
    answer = async () =>
      new Response(JSON.stringify({ code: "lost", detail: "“a.jpg” is no longer there." }), { status: 422 });
    player.play(playback("b"), 0);
    await settle();
    expect(heard.failed).toEqual(["“a.jpg” is no longer there."]);
  });

  test("counts frames that were due and did not get to the screen", async () => {
    player.play(playback("a"), 0);
    await settle();
    const { at } = Source.newest.buffer.appended[0]!;
    for (const [frame, presented] of [
      [0, 1],
      [1, 2],
      [4, 3],
      [5, 4],
    ] as const) {
      video.onFrame!(0, { mediaTime: at + frame / 30 + 0.001, presentedFrames: presented });
    }
    expect(player.tally).toEqual({ shown: 3, dropped: 2 });
  });
});
