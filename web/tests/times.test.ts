import { describe, expect, it } from "vitest";

import {
  clock,
  counted,
  latency,
  milliseconds,
  percent,
  shortClock,
  uncertainty,
} from "../src/domain/times";

describe("how times are written", () => {
  it.each([
    [83_467_000, "1:23.467"],
    [0, "0:00.000"],
    [59_999_600, "1:00.000"],
    [-1_500_000, "−0:01.500"],
    [-100, "0:00.000"],
  ])("an instant of %i µs", (us, text) => expect(clock(us)).toBe(text));

  it.each([
    [0.3, "+0.300 s"],
    [-0.0333, "−0.033 s"],
    [-0.0001, "+0.000 s"],
  ])("a latency of %f s, always with its sign", (s, text) => expect(latency(s)).toBe(text));

  it("the rest", () => {
    expect(milliseconds(-0.0334)).toBe("−33 ms");
    expect(milliseconds(0.0004)).toBe("0 ms");
    expect(uncertainty(0.0136)).toBe("±27 ms");
    // Never ±0: a mark is never perfectly sure.
    expect(uncertainty(0.0001)).toBe("±1 ms");
    expect(percent(0.376)).toBe("38 %");
    expect(shortClock(83.4)).toBe("1:23");
    expect(counted(1, "rep")).toBe("1 rep");
    expect(counted(4812, "frame")).toBe("4 812 frames");
  });
});
