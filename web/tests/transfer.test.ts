import { describe, expect, it } from "vitest";

import { transferWords, type Transfer } from "../src/domain/transfer";

const end = (level: string, count: number, of: number) => ({
  level,
  step: "carry",
  met: count > 0,
  success: { count, of, share: count / of, low: null, high: null },
  response_s: null,
  middle_s: null,
});

const transfer = (more: Partial<Transfer> = {}): Transfer => ({
  condition: "object",
  day: "2026-05-07",
  before: end("pole", 5, 5),
  after: end("keys", 4, 5),
  change: { value: -0.2, low: -0.6, high: 0.3 },
  p: 1,
  carried: null,
  ...more,
});

describe("what carried over, in words", () => {
  it("says how soon it answered, where it was asked", () => {
    const asked = { ...end("keys", 4, 5), response_s: 2.04 };
    expect(transferWords(transfer())).not.toContain("cue");
    expect(transferWords(transfer({ after: asked }))).toContain("2.0 s after its cue.");
    const before = { ...end("pole", 5, 5), middle_s: 1.2 };
    expect(transferWords(transfer({ before, after: asked }))).toContain("cue, 1.2 s before that.");
  });

  it("says how the first reps went, and that few cannot tell", () => {
    const said = transferWords(transfer());
    expect(said).toContain("The first rep fitted; 4 of the first 5 did, and 5 of the last 5");
    expect(said).toContain("cannot tell");
    expect(transferWords(transfer({ after: end("keys", 0, 1) }))).toContain("did not fit");
  });

  it("says a loss or a gain only beyond chance", () => {
    expect(transferWords(transfer({ carried: "less" }))).toContain("begin lower");
    expect(transferWords(transfer({ carried: "more" }))).toContain("better");
  });
});
