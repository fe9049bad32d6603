import { describe, expect, it } from "vitest";

import { fitted, rows } from "../src/domain/beeswarm";

describe("dots on a line", () => {
  it("puts dots that would touch on rows of their own", () => {
    expect(rows([0, 4, 50], 10)).toEqual([0, 1, 0]);
    expect(rows([5, 5, 5, 5], 10)).toEqual([0, 1, -1, 2]);
  });

  it("leaves few dots at their usual size", () => {
    expect(fitted([0, 2, 4, 100], 10, 3).size).toBe(1);
  });

  it("makes a crowd smaller until it fits", () => {
    const crowd = Array.from({ length: 300 }, (_, i) => 200 + ((i * 37) % 150));
    const { size, row } = fitted(crowd, 10, 3);
    expect(size).toBeLessThan(1);
    expect(Math.max(...row.map(Math.abs)) * size).toBeLessThanOrEqual(3);
    // None hides another: dots of one row stand apart by their own size.
    for (const [i, x] of crowd.entries()) {
      for (const [j, y] of crowd.entries()) {
        if (i < j && row[i] === row[j]) expect(Math.abs(x - y)).toBeGreaterThanOrEqual(10 * size);
      }
    }
  });
});
