/** A film's frames and their exact times, as the server indexed them. */

export interface IndexedFrames {
  time_base: [number, number] | number[];
  first_pts: number;
  /** Intervals in ticks, each with how often it follows itself. */
  runs: number[][];
  nominal_us: number;
}

/** Looks up frames by time and times by frame. Never computes one from a frame rate. */
export class FrameTimes {
  readonly count: number;
  private readonly secondsPerTick: number;
  private readonly ticks: Float64Array;
  private readonly timesUs: Float64Array;

  constructor(private readonly index: IndexedFrames) {
    const [num = 1, den = 1] = index.time_base;
    this.secondsPerTick = num / den;
    this.count = 1 + index.runs.reduce((sum, [, often = 0]) => sum + often, 0);
    this.ticks = new Float64Array(this.count);
    let frame = 0;
    for (const [ticks = 0, often = 0] of index.runs) {
      for (let n = 0; n < often; n++, frame++) {
        this.ticks[frame + 1] = (this.ticks[frame] ?? 0) + ticks;
      }
    }
    this.timesUs = this.ticks.map((ticks) => microseconds(ticks, num, den));
  }

  clamp(frame: number): number {
    return Math.min(this.count - 1, Math.max(0, frame));
  }

  pts(frame: number): number {
    return this.index.first_pts + (this.ticks[frame] ?? 0);
  }

  /** Microseconds from the first displayed frame. */
  us(frame: number): number {
    return this.timesUs[frame] ?? 0;
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
    return (this.ticks[frame] ?? 0) * this.secondsPerTick;
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
    return this.clamp(upperBound(this.timesUs, us) - 1);
  }

  /** The frame whose presentation time is nearest to a player's time. */
  atMediaTime(seconds: number): number {
    const at = seconds / this.secondsPerTick;
    const after = this.clamp(upperBound(this.ticks, at));
    const before = this.clamp(after - 1);
    const [sooner, later] = [this.ticks[before] ?? 0, this.ticks[after] ?? 0];
    return Math.abs(later - at) < Math.abs(at - sooner) ? after : before;
  }
}

/** Ticks in microseconds, rounded half up as the server does it, exact for any time base. */
function microseconds(ticks: number, num: number, den: number): number {
  const scaled = ticks * num * 2e6 + den;
  if (scaled <= Number.MAX_SAFE_INTEGER) return Math.floor(scaled / (2 * den));
  const exact = BigInt(ticks) * BigInt(num) * 2_000_000n + BigInt(den);
  return Number(exact / (2n * BigInt(den)));
}

/** The number of sorted values that are at most `value`. */
function upperBound(values: Float64Array, value: number): number {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((values[middle] ?? Infinity) <= value) low = middle + 1;
    else high = middle;
  }
  return low;
}
