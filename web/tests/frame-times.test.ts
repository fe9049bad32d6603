import { describe, expect, it } from "vitest";

import { FrameTimes } from "../src/domain/frame-times";

/** Uneven frames at 0, 40, 60 and 140 ms, with a start offset of one second. */
const times = new FrameTimes({
  time_base: [1, 1000],
  first_pts: 1000,
  runs: [
    [40, 1],
    [20, 1],
    [80, 1],
  ],
  nominal_us: 40_000,
});

describe("FrameTimes", () => {
  it("finds the frame shown at a time of the recording", () => {
    const at = [-1, 0, 39_999, 40_000, 139_999, 140_000, 9e9].map((us) => times.atUs(us));
    expect(at).toEqual([0, 0, 0, 1, 2, 3, 3]);
  });

  it("counts the review copy's time from the first frame, whatever the film's start", () => {
    expect(times.mediaTime(0)).toBe(0);
    expect([0, 0.039, 0.041, 0.06, 0.14, 99].map((s) => times.atMediaTime(s))).toEqual([
      0, 1, 1, 2, 3, 3,
    ]);
  });

  it("seeks to the middle of the interval in which a frame shows", () => {
    expect(times.middle(0)).toBeCloseTo(0.02, 12);
    expect(times.middle(2)).toBeCloseTo(0.1, 12);
    expect(times.middle(3)).toBeCloseTo(0.16, 12);
  });

  it("gives a mark the width of the interval before it", () => {
    expect([0, 1, 2, 3].map((f) => times.widthUs(f))).toEqual([40_000, 40_000, 20_000, 80_000]);
    expect(times.bestS(2)).toBeCloseTo(0.05, 12);
    // JCGM 100:2008, 4.3.7: a rectangle of width a has the standard uncertainty a / sqrt 12.
    expect(times.uncertaintyS(3)).toBeCloseTo(0.08 / Math.sqrt(12), 12);
  });

  it("unfolds runs of equal intervals and rounds as the server does", () => {
    // 29.97 frames a second in its own time base: 1001 / 30000 s apart.
    const even = new FrameTimes({
      time_base: [1, 30_000],
      first_pts: 5,
      runs: [[1001, 3]],
      nominal_us: 33_367,
    });
    expect(even.count).toBe(4);
    expect([0, 1, 2, 3].map((f) => even.us(f))).toEqual([0, 33_367, 66_733, 100_100]);
    expect(even.pts(3)).toBe(5 + 3003);
    // Nanoseconds over a quarter of an hour leave what a double holds exactly: half up all the same.
    const fine = new FrameTimes({
      time_base: [1, 1_000_000_000],
      first_pts: 0,
      runs: [[900_000_000_500, 1]],
      nominal_us: 33_367,
    });
    expect(fine.us(1)).toBe(900_000_001);
  });

  it("keeps inside the film", () => {
    expect([times.clamp(-3), times.clamp(2), times.clamp(7)]).toEqual([0, 2, 3]);
    expect(times.durationUs).toBe(180_000);
  });
});
