import { describe, expect, it } from "vitest";

import document from "../../tests/core/trials-worked.json";

import { currentOnset, nextPart, openTouch, stepAt } from "../src/domain/at-once";
import type { PlanStep, StoredEvent } from "../src/domain/marks";

/** The worked session of the core's own tests; what the core says of it stands beside each check. */
const { plan, events: unsorted } = document as unknown as {
  plan: { approximations: PlanStep[] };
  events: StoredEvent[];
};
const STEPS = [
  ...Array<string>(4).fill("lift"),
  ...Array<string>(3).fill("stay"),
  ...Array<string>(2).fill("chain"),
  ...Array<string>(3).fill("lift"),
];
const BROKE_AT = [null, "hoof"];
const timeOf = (event: StoredEvent) => (event.t ?? 0) - (event.width ?? 0) / 2;
const events = [...unsorted].sort((a, b) => timeOf(a) - timeOf(b));
const onsets = events.filter((e) => e.kind === "onset");

describe("where one is", () => {
  it("is the step the core gives each attempt of the worked session", () => {
    // `reps[].approximation` of the core's findings.
    expect(onsets.map((onset) => stepAt(events, timeOf, timeOf(onset)))).toEqual(STEPS);
    expect(stepAt(events, timeOf, -1)).toBeNull();
  });

  it("is the rep begun last, or one that begins within half a second", () => {
    const [first, second] = [
      { id: "a", kind: "onset", t: 10 },
      { id: "b", kind: "onset", t: 12 },
    ] as [StoredEvent, StoredEvent];
    const at = (s: number) => currentOnset([first, second], timeOf, s)?.id ?? null;
    expect([9.4, 9.5, 10, 11, 11.6, 12].map(at)).toEqual([null, "a", "a", "a", "b", "b"]);
  });
});

describe("the next part of a chain", () => {
  const step = plan.approximations.find((one) => (one.parts ?? []).length > 1);
  const parts = (step?.parts ?? []).map((part) => part.key);

  it("is where the core says that each chain of the worked session broke, none where it did not", () => {
    const chains = onsets.filter((onset) => stepAt(events, timeOf, timeOf(onset)) === step?.key);
    const next = chains.map((onset) => {
      const after = events.filter((e) => timeOf(e) > timeOf(onset));
      const end = after.findIndex((e) => e.kind === "onset");
      return nextPart(step, end < 0 ? after : after.slice(0, end));
    });
    // `reps[].broke_at` of the core's findings.
    expect(next).toEqual(BROKE_AT);
  });

  it("is the second after the onset, and none after the last or without a chain", () => {
    expect(nextPart(step, [])).toBe(parts[1]);
    const all = parts.slice(1).map((part, n): StoredEvent => ({
      id: String(n),
      kind: "part",
      part,
    }));
    expect(nextPart(step, all)).toBeNull();
    // One out of its turn moves nothing.
    expect(nextPart(step, all.slice(1))).toBe(parts[1]);
    expect(nextPart({ key: "plain" }, [])).toBeNull();
    expect(nextPart(undefined, [])).toBeNull();
  });
});

describe("the touch under way", () => {
  const touch: StoredEvent = { id: "x", kind: "exposure", label: "brush" };
  const onset: StoredEvent = { id: "b", kind: "onset" };
  it("is one without an end that began after the last behaviour", () => {
    expect(openTouch([onset, touch])).toBe(touch);
    expect(openTouch([touch, onset])).toBeNull();
    expect(openTouch([{ ...touch, end_s: 3 }])).toBeNull();
    expect(openTouch([])).toBeNull();
  });
});
