import { describe, expect, it } from "vitest";

import type { PlanBody } from "../src/domain/marks";
import { planOf } from "../src/features/bench/steps-dialog";

const rows = [
  { key: "a", title: " Looks ", mark_at: "onset" as const, hold_s: 2 },
  { key: "b", title: "Holds", mark_at: "hold" as const, hold_s: 0.5 },
];

describe("planOf", () => {
  it("writes steps as documents have them: no hold where none is asked for", () => {
    expect(planOf({}, rows, "run")).toEqual({
      approximations: [
        { key: "a", title: "Looks", mark_at: "onset" },
        { key: "b", title: "Holds", mark_at: "hold", hold_s: 0.5 },
      ],
      rule: { kind: "run" },
    });
  });

  it("keeps what the dialog does not show", () => {
    const before: PlanBody = {
      rule: { kind: "run", need: 3 },
      rate_floor_per_min: 8,
      placement: { on: 1 },
    };
    expect(planOf(before, rows, "run")).toMatchObject(before);
    expect(planOf(before, rows, "share").rule).toEqual({ kind: "share" });
    expect(planOf(before, rows, "")).not.toHaveProperty("rule");
  });
});
