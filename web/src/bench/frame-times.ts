/** A film's frames and their exact times, as the server indexed them. */

export interface IndexedFrames {
  time_base: [number, number] | number[];
  pts: number[];
  times_us: number[];
  nominal_us: number;
}

/** Looks up frames by time and times by frame. Never computes one from a frame rate. */
export class FrameTimes {
  readonly count: number;
  private readonly secondsPerTick: number;

  constructor(private readonly index: IndexedFrames) {
    this.count = index.pts.length;
    this.secondsPerTick = (index.time_base[0] ?? 1) / (index.time_base[1] ?? 1);
  }

  clamp(frame: number): number {
    return Math.min(this.count - 1, Math.max(0, frame));
  }

  pts(frame: number): number {
    return this.index.pts[frame] ?? 0;
  }

  /** Microseconds from the first displayed frame. */
  us(frame: number): number {
    return this.index.times_us[frame] ?? 0;
  }

  /** Width of a mark on this frame, microseconds. */
  widthUs(frame: number): number {
    return frame === 0 ? this.index.nominal_us : this.us(frame) - this.us(frame - 1);
  }

  /** Best estimate of the instant of a mark on this frame, seconds. */
  bestS(frame: number): number {
    return (this.us(frame) - this.widthUs(frame) / 2) / 1e6;
  }

  /** Standard uncertainty of a mark on this frame, seconds: a rectangle as wide as the interval. */
  uncertaintyS(frame: number): number {
    return this.widthUs(frame) / 1e6 / Math.sqrt(12);
  }

  /** End of the last frame, microseconds. */
  get durationUs(): number {
    return this.us(this.count - 1) + this.index.nominal_us;
  }

  /** The review copy's own time of a frame, seconds: it begins with the first frame. */
  mediaTime(frame: number): number {
    return (this.pts(frame) - this.pts(0)) * this.secondsPerTick;
  }

  /** Middle of the interval in which the player shows a frame: the only safe place to seek to. */
  middle(frame: number): number {
    const start = this.mediaTime(frame);
    const end =
      frame + 1 < this.count ? this.mediaTime(frame + 1) : start + this.index.nominal_us / 1e6;
    return (start + end) / 2;
  }

  /** The frame shown at a time of the recording. */
  atUs(us: number): number {
    return this.clamp(upperBound(this.index.times_us, us) - 1);
  }

  /** The frame whose presentation time is nearest to a player's time. */
  atMediaTime(seconds: number): number {
    const ticks = this.pts(0) + seconds / this.secondsPerTick;
    const after = this.clamp(upperBound(this.index.pts, ticks));
    const before = this.clamp(after - 1);
    return Math.abs(this.pts(after) - ticks) < Math.abs(ticks - this.pts(before)) ? after : before;
  }
}

/** The number of sorted values that are at most `value`. */
function upperBound(values: number[], value: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((values[middle] ?? Infinity) <= value) low = middle + 1;
    else high = middle;
  }
  return low;
}
