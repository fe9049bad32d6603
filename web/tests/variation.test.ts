import { describe, expect, it } from "vitest";

import type { Cell, Grid } from "../src/domain/behaviour-logbook";
import { nextWords, stateWords } from "../src/domain/variation";

const cell = (state: Cell["state"], met: number, of: number, more: Partial<Cell> = {}): Cell => ({
  judged: of,
  success: { count: met, of, share: of ? met / of : null, low: null, high: null },
  last_day: "2026-05-04",
  days_since: 3,
  state,
  is_due: false,
  ...more,
});

describe("a level in words", () => {
  it.each([
    [cell("untried", 0, 0), "not tried yet"],
    [cell("few", 2, 3), "2 of 3, too few yet"],
    [cell("weak", 3, 10), "3 of 10, weak"],
    [cell("holds", 9, 10), "9 of 10, holds"],
    [cell("holds", 9, 10, { is_due: true, days_since: 20 }), "due: 20 days ago"],
    [cell("holds", 9, 10, { is_due: true, days_since: 1 }), "due: 1 day ago"],
  ])("%#", (one, said) => expect(stateWords(one)).toBe(said));
});

describe("what is next in words", () => {
  const grid = (next: Partial<Grid["next"]>): Grid => ({
    rows: ["side", "place"].map((name) => ({ name, levels: [], stands_at: null })),
    crossings: [],
    next: {
      why: "next",
      condition: "place",
      level: "barn",
      levels: { side: "left", place: "barn" },
      raised: "place",
      ...next,
    },
  });

  it("names one thing, and what goes with it", () => {
    expect(nextWords(grid({}))).toBe(
      "Next: place barn, for the first time. Together with side left.",
    );
    expect(nextWords(grid({ why: "due" }))).toContain("Next: place barn once more.");
  });

  it("asks for nothing where the learner was not at ease, where all holds, where nothing is", () => {
    const none = { condition: null, level: null, raised: null };
    expect(nextWords(grid({ why: "ease", ...none }))).toContain("Its ease first");
    expect(nextWords(grid({ why: "all_hold", ...none }))).toContain("holds everywhere");
    expect(nextWords(grid({ why: "no_conditions", ...none, levels: {} }))).toContain(
      "no condition",
    );
  });
});
