/**
 * A window of decoded frames around the current one, so that a step shows at once.
 *
 * The frame asked for last is decoded first; its neighbours follow, ahead of the
 * direction of stepping before behind it. What falls out of the window is released.
 */

import type { FrameSource } from "./frame-source";
import type { FrameTimes } from "./frame-times";

export const AHEAD = 15;
export const BEHIND = 15;
/** Frames further away than this are let go. */
const KEEP = 24;

export class FrameWindow {
  private readonly pictures = new Map<number, ImageBitmap>();
  private work = new AbortController();
  private filling = false;
  /** A run of neighbours is under way, and not the frame asked for. */
  private running = false;
  private centre = -1;
  private direction = 1;
  private closed = false;

  constructor(
    private readonly source: FrameSource,
    private readonly times: FrameTimes,
    /**
     * Told whenever a picture has come: it is the listener's to look at until it returns.
     * `isAskedFor`: by itself, and not as a neighbour of another.
     */
    private readonly onPicture: (frame: number, picture: ImageBitmap, isAskedFor: boolean) => void,
    /** Told with a fault when one cannot be had. */
    private readonly onFault: (error: unknown) => void,
  ) {}

  get way(): FrameSource["way"] {
    return this.source.way;
  }

  /** The picture of a frame if it is decoded. */
  peek(frame: number): ImageBitmap | undefined {
    return this.pictures.get(frame);
  }

  /** Move the window; the pictures come by `onPicture`. */
  moveTo(frame: number): void {
    if (frame === this.centre) return;
    this.direction = frame < this.centre ? -1 : 1;
    const missed = !this.pictures.has(frame);
    this.centre = frame;
    this.letGo();
    // A fill under way goes on while it is still of use; a miss must not wait for it. A single
    // frame goes on in any case: whoever drags sees pictures all the way, not only at its end.
    if (missed && this.running) {
      this.work.abort();
      this.filling = false;
    }
    if (!this.filling) void this.fill();
  }

  private async fill(): Promise<void> {
    this.filling = true;
    const work = new AbortController();
    this.work = work;
    try {
      let run = this.nextRun();
      while (run && !work.signal.aborted) {
        const [from, to] = run;
        if (from === to) {
          this.keep(from, await this.source.decode(from, work.signal), true);
        } else {
          this.running = true;
          for await (const got of this.source.decodeRun(from, to, work.signal)) {
            this.keep(got.frame, got.picture, false);
            // The user went somewhere this run does not lead to.
            if (work.signal.aborted || this.pictures.size === 0) break;
          }
          if (this.work === work) this.running = false;
        }
        const next = this.nextRun();
        // What brought nothing would bring nothing again; elsewhere, where one went meanwhile, it may.
        run = next && next[0] === from && next[1] === to ? null : next;
      }
    } catch (error) {
      if (!work.signal.aborted && !this.closed) this.onFault(error);
    } finally {
      if (this.work === work) this.filling = this.running = false;
    }
  }

  /** The next run of missing frames: the current one, then ahead, then behind. */
  private nextRun(): [number, number] | null {
    const { centre, times } = this;
    if (!this.pictures.has(centre)) return [centre, centre];
    const [ahead, behind] = this.direction > 0 ? [AHEAD, BEHIND] : [BEHIND, AHEAD];
    const low = times.clamp(centre - behind);
    const high = times.clamp(centre + ahead);
    const after = this.gap(centre, high);
    const before = this.gap(low, centre);
    return this.direction > 0 ? (after ?? before) : (before ?? after);
  }

  /** First to last missing frame of a range. */
  private gap(low: number, high: number): [number, number] | null {
    let from = low;
    while (from <= high && this.pictures.has(from)) from++;
    if (from > high) return null;
    let to = high;
    while (this.pictures.has(to)) to--;
    return [from, to];
  }

  private keep(frame: number, picture: ImageBitmap, isAskedFor: boolean): void {
    if (this.closed) {
      picture.close();
      return;
    }
    const isNear = Math.abs(frame - this.centre) <= KEEP;
    if (isNear) {
      this.pictures.get(frame)?.close();
      this.pictures.set(frame, picture);
    }
    if (isNear || isAskedFor) this.onPicture(frame, picture, isAskedFor);
    if (!isNear) picture.close();
  }

  private letGo(): void {
    for (const [frame, picture] of this.pictures) {
      if (Math.abs(frame - this.centre) > KEEP) {
        picture.close();
        this.pictures.delete(frame);
      }
    }
  }

  close(): void {
    this.closed = true;
    this.work.abort();
    for (const picture of this.pictures.values()) picture.close();
    this.pictures.clear();
    this.source.close();
  }
}
