import { describe, expect, it } from "vitest";

import { lagOf } from "../src/domain/reaction";

describe("the reviewer's own lag", () => {
  it("is the median, and its spread the interquartile range over 1.349", () => {
    // 0.20 … 0.28: quartiles 0.22 and 0.26 (type 7), by hand.
    const lag = lagOf([0.28, 0.2, 0.24, 0.22, 0.26]);
    expect(lag).toBeNull();
    const nine = lagOf([0.2, 0.21, 0.22, 0.23, 0.24, 0.25, 0.26, 0.27, 0.28]);
    expect(nine?.lagS).toBe(0.24);
    expect(nine?.sdS).toBeCloseTo(0.04 / 1.349, 3);
  });

  it("is not moved by one tap far off", () => {
    const even = lagOf([0.2, 0.21, 0.22, 0.23, 0.24, 0.25, 0.26]);
    const odd = lagOf([0.2, 0.21, 0.22, 0.23, 0.24, 0.25, 0.95]);
    expect(odd?.lagS).toBe(even?.lagS);
    expect(odd?.sdS).toBe(even?.sdS);
  });

  it("is not told from fewer than six taps, and never surer than 10 ms", () => {
    expect(lagOf([])).toBeNull();
    expect(lagOf([0.2, 0.2, 0.2, 0.2, 0.2])).toBeNull();
    expect(lagOf([0.2, 0.2, 0.2, 0.2, 0.2, 0.2])).toEqual({ lagS: 0.2, sdS: 0.01 });
  });
});
