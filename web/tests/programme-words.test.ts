import { describe, expect, it } from "vitest";

import { aloneWords, chainNextWords, joinWords, type Chaining } from "../src/domain/chain";
import { cautionWords, ladderNextWords, type Ladder } from "../src/domain/ladder";
import { ladderOf, withLadder, withQuantity, withoutStep } from "../src/domain/plan-document";

const share = (count: number, of: number) => ({
  count,
  of,
  share: of ? count / of : null,
  low: null,
  high: null,
});

const chain = (next: Partial<Chaining["next"]>): Chaining => ({
  direction: "backward",
  parts: [
    { key: "take", title: "takes it", step: null, success: share(0, 0), is_sure: false },
    { key: "carry", title: "carries it", step: "c", success: share(4, 5), is_sure: true },
    { key: "drop", title: "drops it", step: null, success: share(0, 0), is_sure: false },
  ],
  joins: [],
  joined: ["carry", "drop"],
  next: { why: "keep", parts: ["carry", "drop"], part: null, step: "run", beside: [], ...next },
});

describe("the chain in words", () => {
  it("says which link is next and why", () => {
    expect(chainNextWords(chain({}))).toBe(
      "Stay with carries it, then drops it until every join holds.",
    );
    const mend = chain({ why: "mend", part: "drop", step: null, beside: ["drop"] });
    expect(chainNextWords(mend)).toBe(
      "It breaks before drops it. A few reps of that part alone, then carries it, then drops it, then on.",
    );
    const join = chain({
      why: "join",
      part: "take",
      parts: ["take", "carry", "drop"],
      step: null,
    });
    expect(chainNextWords(join)).toBe(
      "Join takes it: takes it, then carries it, then drops it. The plan has no step for it yet.",
    );
    expect(chainNextWords(chain({ why: "part", part: "take", parts: ["take"] }))).toContain(
      "First takes it alone",
    );
  });

  it("says how parts and joins go", () => {
    const { parts } = chain({});
    expect(parts.map(aloneWords)).toEqual([
      "not trained alone",
      "alone 4 of 5",
      "not trained alone",
    ]);
    const join = { first: "a", second: "b", last_day: null, holds: false, is_weak: false };
    expect(joinWords({ ...join, reached: share(0, 0) })).toBe("not yet together");
    expect(joinWords({ ...join, reached: share(7, 10) })).toBe("7 of 10 went on");
  });
});

const ladder = (more: Partial<Ladder>): Ladder => ({
  name: "height",
  unit: "cm",
  better: "more",
  school: "share",
  rungs: [10, 20, 30].map((value, n) => ({
    value,
    step: null,
    reached: share(9 - 4 * n, 10),
    since: n === 0 ? "2026-05-01" : null,
    not_before: n === 0 ? null : "2026-05-08",
    cautions: n === 2 ? ["growing", "surface"] : [],
  })),
  at: 0,
  next: 0,
  why: "stay",
  criterion: null,
  values: 10,
  middle: 14,
  best: 22,
  ...more,
});

describe("the ladder in words", () => {
  it("says the next rung and what it rests on", () => {
    expect(ladderNextWords(ladder({}))).toBe("Stay at 10 cm. 9 of the last 10 came to 10 cm.");
    // Going up rests on the rung that was left.
    expect(ladderNextWords(ladder({ why: "up", at: 1, next: 1 }))).toBe(
      "Up to 20 cm. 9 of the last 10 came to 10 cm.",
    );
    expect(ladderNextWords(ladder({ why: "wait" }))).toContain("not before Fri 8 May");
    expect(ladderNextWords(ladder({ school: "percentile", criterion: 12.346 }))).toContain(
      "Paid beyond 12.35 cm.",
    );
    expect(ladderNextWords(ladder({ why: "ease" }))).toContain("Not at ease last time");
  });

  it("keeps the cautions in mind", () => {
    expect(cautionWords(ladder({}).rungs[2]!)).toEqual([
      expect.stringContaining("Still growing"),
      expect.stringContaining("does not slip"),
    ]);
  });
});

describe("rungs and stages in a plan", () => {
  const quantity = { name: "height", unit: "cm", better: "more" as const };
  const plan = {
    format: "frequens-plan",
    version: 1,
    approximations: [{ key: "a", quantity }, { key: "b" }],
    stages: [{ name: "first", until: "b" }],
  };

  it("keeps rungs under the name of what is measured", () => {
    const made = withLadder(plan, "height", { rungs: [10, 20], limit: 15 });
    expect(ladderOf(made, "height")).toEqual({ name: "height", rungs: [10, 20], limit: 15 });
    const renamed = withQuantity(made, "a", { ...quantity, name: "reach" });
    expect(ladderOf(renamed, "height")).toBeUndefined();
    expect(ladderOf(renamed, "reach")?.rungs).toEqual([10, 20]);
    // Another step still measures it: its rungs stay.
    const shared = withQuantity(made, "b", quantity);
    expect(ladderOf(withQuantity(shared, "a", undefined), "height")?.rungs).toEqual([10, 20]);
    expect(withQuantity(made, "a", undefined).ladders).toBeUndefined();
    expect(withLadder(made, "height", { rungs: undefined }).ladders).toBeUndefined();
  });

  it("takes the rungs out with the last step that measures them", () => {
    const made = withLadder(plan, "height", { rungs: [10, 20] });
    expect(ladderOf(withoutStep(made, "a"), "height")).toBeUndefined();
    const shared = withQuantity(made, "b", quantity);
    expect(ladderOf(withoutStep(shared, "a"), "height")?.rungs).toEqual([10, 20]);
  });

  it("lets a stage go on without the step that was taken out", () => {
    expect(withoutStep(plan, "b").stages).toEqual([{ name: "first" }]);
    expect(withoutStep(plan, "a").stages).toEqual(plan.stages);
  });
});
