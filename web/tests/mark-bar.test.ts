import { describe, expect, it } from "vitest";

import type { PlanDocument } from "../src/domain/plan-document";
import { onBar } from "../src/features/bench/mark-bar";

const SESSION = { rep: null, stepInForce: "ring", plan: {}, planned: undefined, events: [] };
const tossing = (reset: PlanDocument["reset"] & string): PlanDocument => ({
  format: "frequens-plan",
  version: 1,
  reset,
});

describe("the marks on the bar", () => {
  it("are the usual ones where nothing else is asked for", () => {
    expect([...onBar(SESSION)]).toEqual([
      ...["onset", "offset", "marker", "reward", "sign", "reach", "cue", "other_behaviour"],
    ]);
  });

  it("have the reset where the plan tosses the reward away, and only there", () => {
    expect(onBar({ ...SESSION, planned: tossing("toss") })).toContain("reset");
    expect(onBar({ ...SESSION, planned: tossing("in_position") })).not.toContain("reset");
  });

  it("have what the step in force asks for before all that, and never more than eight", () => {
    const step = { key: "ring", answers: true, until_release: true };
    const plan = { approximations: [{ key: "look" }, step] };
    const asked = onBar({ ...SESSION, plan, planned: tossing("toss") });
    expect(asked).toContain("release");
    expect(asked).toContain("no_cue_window");
    expect(asked).not.toContain("reset");
    expect(asked.size).toBe(8);
    expect(onBar({ ...SESSION, plan, stepInForce: "look" })).not.toContain("release");
  });
});
