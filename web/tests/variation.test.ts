import { describe, expect, it } from "vitest";

import type { Cell, NextLevels } from "../src/domain/behaviour-logbook";
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
  const after = (found: Partial<NextLevels>): NextLevels => ({
    why: "next",
    condition: "place",
    level: "barn",
    levels: { side: "left", place: "barn" },
    raised: "place",
    stands: { side: "left", place: "yard" },
    steps_back: 0,
    minds: [],
    ...found,
  });

  it("names one thing, and what goes with it", () => {
    expect(nextWords(after({}))).toBe(
      "Next: place barn, for the first time. Together with side left.",
    );
    expect(nextWords(after({ why: "due" }))).toContain("Next: place barn once more.");
  });

  it("says how far below one begins with another person", () => {
    expect(nextWords(after({ steps_back: 2 }))).toContain("Begin two steps below.");
    expect(nextWords(after({ steps_back: 1 }))).toContain("Begin a step below.");
    expect(nextWords(after({ minds: ["child"] }))).toContain("beside an adult");
    expect(nextWords(after({ minds: ["apart"] }))).toContain("90°");
  });

  it("keeps the conditions where they are while the step itself is worked on", () => {
    const none = { condition: null, level: null, raised: null };
    expect(nextWords(after({ why: "step", ...none }))).toContain("side left, place barn");
    expect(nextWords(after({ why: "steady", ...none }))).toContain("Nothing new");
  });

  it("asks for nothing where the learner was not at ease, where all holds, where nothing is", () => {
    const none = { condition: null, level: null, raised: null };
    expect(nextWords(after({ why: "ease", ...none }))).toContain("Its ease first");
    expect(nextWords(after({ why: "all_hold", ...none }))).toContain("holds everywhere");
    expect(nextWords(after({ why: "no_conditions", ...none, levels: {} }))).toContain(
      "no condition",
    );
  });
});
