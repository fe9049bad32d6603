import { describe, expect, it } from "vitest";

import {
  inOneLine,
  withFallback,
  withLaterCue,
  withMoved,
  withNewStep,
  withoutStep,
  withPlaced,
  withSplit,
  withStep,
  withValues,
  type PlanDocument,
} from "../src/domain/plan-document";

const plan: PlanDocument = {
  format: "frequens-plan",
  version: 1,
  cue: { name: "mat", from_step: "a" },
  approximations: [
    { key: "a", title: "A", raises: ["topography"] },
    { key: "b", title: "B", raises: ["precision", "duration"], fallback: "a" },
    { key: "c", title: "C", raises: ["distraction"], fallback: "b" },
  ],
};
const keys = (p: PlanDocument) => p.approximations?.map((s) => s.key).join("");
const fallbacks = (p: PlanDocument) => p.approximations?.map((s) => s.fallback);

describe("a plan's steps", () => {
  it("are put in between, and the step above falls back to the new one", () => {
    const made = withNewStep(plan, "a");
    expect(made.plan.approximations?.map((s) => s.key)).toEqual(["a", made.key, "b", "c"]);
    expect(fallbacks(made.plan)).toEqual([undefined, "a", made.key, "b"]);
    expect(keys(plan)).toBe("abc");
  });

  it("can be put at the foot", () => {
    const made = withNewStep(plan, null);
    expect(made.plan.approximations?.[0]?.key).toBe(made.key);
    expect(fallbacks(made.plan)?.[0]).toBeUndefined();
  });

  it("are split: first what is raised first, then the rest", () => {
    const made = withSplit(plan, "b");
    const [, lower, upper, above] = made.plan.approximations ?? [];
    expect(lower?.raises).toEqual(["precision"]);
    expect(upper?.raises).toEqual(["duration"]);
    expect(upper?.fallback).toBe("b");
    expect(above?.fallback).toBe(upper?.key);
  });

  it("are moved, and no way back leads up afterwards", () => {
    const moved = withMoved(plan, "b", -1);
    expect(keys(moved)).toBe("bac");
    expect(fallbacks(moved)).toEqual([undefined, undefined, "b"]);
    expect(keys(withMoved(plan, "a", -1))).toBe("abc");
    expect(keys(withPlaced(plan, "c", "a", -1))).toBe("cab");
    expect(keys(withPlaced(plan, "a", "a", 1))).toBe("abc");
  });

  it("leave no way back and no cue to a step that is gone", () => {
    const less = withoutStep(plan, "a");
    expect(keys(less)).toBe("bc");
    expect(fallbacks(less)).toEqual([undefined, "b"]);
    expect(less.cue).toEqual({ name: "mat" });
    expect(fallbacks(withoutStep(plan, "b"))).toEqual([undefined, "a"]);
  });

  it("pass over retired ones", () => {
    const retired = withStep(plan, "b", { retired: true });
    expect(keys(withMoved(retired, "c", -1))).toBe("cab");
    expect(withFallback(retired, "c").approximations?.[2]?.fallback).toBe("a");
  });

  it("hold for a second where they say only that they hold, and forget it when they do not", () => {
    const held = withStep(plan, "a", { mark_at: "hold" });
    expect(held.approximations?.[0]?.hold_s).toBe(1);
    expect(withStep(held, "a", { mark_at: "onset" }).approximations?.[0]).not.toHaveProperty(
      "hold_s",
    );
  });
});

describe("the whole plan", () => {
  it("brings the cue in once the form is sure", () => {
    expect(withLaterCue(plan).cue?.from_step).toBe("c");
  });

  it("loses what is set to nothing", () => {
    expect(withValues({ ...plan, rep_cap: 3 }, { rep_cap: undefined })).not.toHaveProperty(
      "rep_cap",
    );
  });

  it("is said in one line", () => {
    const line = inOneLine({
      ...plan,
      way: "capturing",
      markers: [{ name: "click", meaning: "event" }],
      rule: { kind: "share", window: 10, raise: 0.8 },
      session_cap_s: 90,
      rep_cap: 12,
    });
    expect(line).toBe(
      "capturing · click ends the rep · up at 80 % of the last 10 · at most 1.5 min or 12 reps",
    );
  });
});
