import { addresses, problemOf, type Segment } from "../api/client";

/** Seconds of clip that are asked for before they are due, and how many segments are asked for at once. */
const AHEAD = 4;
const AT_ONCE = 2;
const KEPT_BEHIND = 3;
/**
 * Between what was played before an edit and what is played after it lies a gap, so that neither reaches into the
 * other.
 */
const APART = 1;

/** What can be played: a clip, or a reel, which has `sound` under it. */
export interface Playable {
  segments: Segment[];
  frames_per_second: number;
  codec: string;
  /** The key the sound is got by. */
  sound?: string;
}

const SOUND_TYPE = 'audio/mp4; codecs="flac"';

/** What lies at one place of the endless timeline the browser plays: the frames of one segment, in seconds. */
interface Part<Played extends Playable> {
  start: number;
  end: number;
  segment: Segment;
  playback: Played;
}

export interface Listener<Played extends Playable = Playable> {
  /** A frame is on the screen. */
  shown(frame: number, playback: Played): void;
  /** The first frame after a start is on the screen. */
  began(): void;
  /** The clip does, or does not, wait for segments. */
  waiting(waits: boolean): void;
  failed(sentence: string): void;
  /** A segment is not known to the program any more: the clip has to be planned again. */
  outdated(): void;
}

export interface Tally {
  /** Frames that were on the screen, and frames that were due but did not get there. */
  shown: number;
  dropped: number;
}

/**
 * Plays a clip endlessly from short segments, through MediaSource.
 *
 * The browser's timeline only ever grows: each round of the clip, and what comes after an edit, is put behind the
 * last segment. What was there before an edit goes on until the first new segment has arrived.
 */
export class Player<Played extends Playable> {
  readonly tally: Tally = { shown: 0, dropped: 0 };
  private source = new MediaSource();
  private buffer: SourceBuffer | undefined;
  private readonly address = URL.createObjectURL(this.source);
  private sound: SourceBuffer | undefined;
  private parts: Part<Played>[] = [];
  private playback: Played | undefined;
  private coming = new Map<string, Promise<ArrayBuffer[]>>();
  private next = 0;
  private end = APART;
  private round = 0;
  private from: number | undefined;
  private last: { time: number; presented: number } | undefined;
  private ended = false;
  private wake: () => void = () => undefined;
  private interrupt: () => void = () => undefined;

  constructor(
    private readonly video: HTMLVideoElement,
    private readonly listener: Listener<Played>,
  ) {
    video.src = this.address;
    video.addEventListener("waiting", this.waits);
    video.addEventListener("playing", this.goesOn);
    video.addEventListener("timeupdate", this.rouse);
    video.requestVideoFrameCallback(this.frameIsShown);
    this.source.addEventListener("sourceopen", this.rouse);
    void this.feed();
  }

  /** Play a clip from a frame; what is on the screen stays until its first segment is there. */
  play(playback: Played, frame: number): void {
    this.playback = playback;
    this.from = frame;
    this.round += 1;
    this.coming.clear();
    this.next = Math.max(
      0,
      playback.segments.findLastIndex((segment) => segment.first <= frame),
    );
    this.interrupt();
    this.rouse();
  }

  close(): void {
    this.ended = true;
    this.rouse();
    this.video.removeEventListener("waiting", this.waits);
    this.video.removeEventListener("playing", this.goesOn);
    this.video.removeEventListener("timeupdate", this.rouse);
    this.video.pause();
    this.video.removeAttribute("src");
    URL.revokeObjectURL(this.address);
  }

  private readonly rouse = (): void => this.wake();
  private readonly waits = (): void => this.listener.waiting(true);
  private readonly goesOn = (): void => this.listener.waiting(false);

  /** Ask for segments ahead of the playhead and put them behind one another, as long as the player is there. */
  private async feed(): Promise<void> {
    while (!this.ended) {
      if (!this.playback || this.source.readyState !== "open" || this.isFarEnough()) {
        await new Promise<void>((resolve) => (this.wake = resolve));
        continue;
      }
      const { playback, round } = this;
      const segment = playback.segments[this.next % playback.segments.length]!;
      this.askAhead(playback);
      try {
        const interrupted = new Promise<undefined>((resolve) => (this.interrupt = () => resolve(undefined)));
        const data = await Promise.race([this.coming.get(nameOf(segment, playback))!, interrupted]);
        if (data && round === this.round) await this.put(data, segment, playback);
      } catch (error) {
        if (round === this.round && !this.ended) this.refused(error);
      }
    }
  }

  private isFarEnough(): boolean {
    return this.from === undefined && this.end - this.video.currentTime > AHEAD;
  }

  private askAhead(playback: Played): void {
    const { segments } = playback;
    for (let ahead = 0; ahead < Math.min(AT_ONCE, segments.length); ahead += 1) {
      const segment = segments[(this.next + ahead) % segments.length]!;
      const name = nameOf(segment, playback);
      if (this.coming.has(name)) continue;
      const wanted = [fetchPiece(addresses.segment(segment.key))];
      if (playback.sound) wanted.push(fetchPiece(addresses.reelSound(playback.sound, segment.first, segment.frames)));
      const answer = Promise.all(wanted);
      answer.catch(() => undefined);
      this.coming.set(name, answer);
    }
  }

  private async put([picture, sound]: ArrayBuffer[], segment: Segment, playback: Played): Promise<void> {
    const seconds = segment.frames / playback.frames_per_second;
    const start = this.from === undefined ? this.end : this.end + APART;
    // Both are opened before anything is put into one: a browser takes no further one after that.
    this.buffer ??= this.source.addSourceBuffer(`video/mp4; codecs="${playback.codec}"`);
    if (sound) this.sound ??= this.source.addSourceBuffer(SOUND_TYPE);
    this.buffer.timestampOffset = start;
    const both = [this.append(this.buffer, picture!)];
    if (sound && this.sound) {
      this.sound.timestampOffset = start;
      both.push(this.append(this.sound, sound));
    }
    await Promise.all(both);
    const part = { start, end: start + seconds, segment, playback };
    this.parts.push(part);
    this.end = part.end;
    this.next = (this.next + 1) % playback.segments.length;
    this.coming.delete(nameOf(segment, playback));
    if (this.from !== undefined) this.begin(part);
    await this.forgetBehind();
  }

  private begin({ start, segment, playback }: Part<Played>): void {
    const frame = Math.max(segment.first, Math.min(this.from!, segment.first + segment.frames - 1));
    this.from = undefined;
    this.last = undefined;
    // The middle of a frame is that frame whichever way times are rounded.
    this.video.addEventListener("seeked", () => this.listener.began(), { once: true });
    this.video.currentTime = start + (frame - segment.first + 0.5) / playback.frames_per_second;
    this.video.play().catch(() => undefined);
  }

  private async append(buffer: SourceBuffer, data: ArrayBuffer): Promise<void> {
    try {
      buffer.appendBuffer(data);
    } catch (error) {
      if (!(error instanceof DOMException && error.name === "QuotaExceededError")) throw error;
      await this.remove(buffer, 0, this.video.currentTime - 0.5);
      buffer.appendBuffer(data);
    }
    await updated(buffer);
  }

  private async forgetBehind(): Promise<void> {
    const before = this.video.currentTime - KEPT_BEHIND;
    if (!this.parts[0] || this.parts[0].end > before) return;
    this.parts = this.parts.filter((part) => part.end > before);
    await Promise.all([this.buffer, this.sound].map((one) => one && this.remove(one, 0, before)));
  }

  private async remove(buffer: SourceBuffer, start: number, end: number): Promise<void> {
    if (end <= start) return;
    buffer.remove(start, end);
    await updated(buffer);
  }

  private readonly frameIsShown = (_: number, { mediaTime, presentedFrames }: VideoFrameCallbackMetadata): void => {
    if (this.ended) return;
    this.video.requestVideoFrameCallback(this.frameIsShown);
    const part = this.parts.findLast((one) => mediaTime >= one.start - 1e-4 && mediaTime < one.end);
    if (!part) return;
    const { playback, segment } = part;
    const frame =
      segment.first +
      Math.min(segment.frames - 1, Math.floor((mediaTime - part.start) * playback.frames_per_second + 0.1));
    this.count(mediaTime, presentedFrames, playback.frames_per_second);
    this.listener.shown(frame, playback);
  };

  /** Count what was presented against what was due since the last call; a jump begins anew. */
  private count(time: number, presented: number, rate: number): void {
    const { last } = this;
    this.last = { time, presented };
    const due = last ? Math.round((time - last.time) * rate) : 0;
    if (!last || due < 1 || due > 10 * rate) return;
    const shown = Math.min(due, presented - last.presented);
    this.tally.shown += shown;
    this.tally.dropped += due - shown;
  }

  private refused(error: unknown): void {
    this.playback = undefined;
    this.coming.clear();
    if (error instanceof Error && "status" in error && error.status === 404) this.listener.outdated();
    else this.listener.failed(error instanceof Error ? error.message : String(error));
  }
}

/** What is fetched for a segment depends on the sound under it as well. */
function nameOf(segment: Segment, playback: Playable): string {
  return `${segment.key} ${segment.first} ${playback.sound ?? ""}`;
}

async function fetchPiece(address: string): Promise<ArrayBuffer> {
  const response = await fetch(address);
  if (!response.ok) throw await problemOf(response);
  return response.arrayBuffer();
}

function updated(buffer: SourceBuffer): Promise<void> {
  // Whichever comes, neither is listened for any more: there are thousands of segments in an hour of playing.
  const heard = new AbortController();
  const { signal } = heard;
  return new Promise<void>((resolve, reject) => {
    buffer.addEventListener("updateend", () => resolve(), { signal });
    buffer.addEventListener("error", () => reject(new Error("The browser could not take in a part of the clip.")), {
      signal,
    });
  }).finally(() => heard.abort());
}
