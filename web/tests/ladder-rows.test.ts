import { describe, expect, it } from "vitest";

import type { Findings, Rep } from "../src/api/findings";
import { axisFor, ladderAxis } from "../src/domain/ladder-axis";
import { ladderGroups, type RepRow, type WaitRow } from "../src/domain/ladder-rows";
import type { StoredEvent } from "../src/domain/marks";

const rep = (id: string, onset_s: number, more: Partial<Rep> = {}): Rep =>
  ({
    id,
    onset_s,
    approximation: "stay",
    offset_id: null,
    marker_id: null,
    further_ids: [],
    keep_going_ids: [],
    reward_ids: [],
    parts: [],
    ...more,
  }) as unknown as Rep;
const at = (kind: StoredEvent["kind"], id: string, t: number, more = {}): StoredEvent => ({
  id,
  kind,
  t,
  ...more,
});
const timeOf = (event: StoredEvent) => event.t ?? 0;
const groups = (reps: Rep[], events: StoredEvent[], moments: unknown[] = []) =>
  ladderGroups({ reps, moments } as unknown as Findings, events, timeOf);

describe("the rows of the ladder", () => {
  it("hold every pay of a rep in its order, and where it was let go", () => {
    const events = [
      at("onset", "b", 10),
      at("marker", "m1", 12),
      at("reward", "r1", 13),
      at("marker", "k", 15),
      at("reward", "r2", 16),
      at("marker", "m2", 18),
      at("release", "l", 20),
      at("release", "later", 22),
    ];
    const one = rep("b", 10, {
      marker_id: "m1",
      further_ids: ["m2"],
      keep_going_ids: ["k"],
      reward_ids: ["r1", "r2"],
    });
    const row = groups([one], events)[0]?.rows[0] as RepRow;
    expect(row.marks.map((m) => [m.kind, m.id, m.s])).toEqual([
      ["onset", "b", 0],
      ["release", "l", 10],
      ["keep_going", "k", 5],
      ["marker", "m1", 2],
      ["marker", "m2", 8],
      ["reward", "r1", 3],
      ["reward", "r2", 6],
    ]);
  });

  it("draw a keep-going marker that is the timing marker once", () => {
    const events = [at("onset", "b", 10), at("marker", "k", 11)];
    const one = rep("b", 10, { marker_id: "k", keep_going_ids: ["k"] });
    const row = groups([one], events)[0]?.rows[0] as RepRow;
    expect(row.marks.filter((m) => m.id === "k").map((m) => m.kind)).toEqual(["marker"]);
  });

  it("know how long it took to come back, and only where it did", () => {
    const events = [at("reset", "z1", 4), at("onset", "b1", 10), at("reset", "z2", 14)];
    const moments = [
      { id: "z1", role: "return", t_s: 4.03, outcome: "back", s: 6 },
      { id: "z2", role: "return", t_s: 14, outcome: "cut", s: 3 },
    ];
    const rows = groups(
      [rep("b1", 10.03), rep("b2", 20)],
      [...events, at("onset", "b2", 20)],
      moments,
    );
    expect((rows[0]?.rows as RepRow[]).map((row) => row.backS)).toEqual([6, null]);
  });

  it("put a paid wait between the reps it lies between, in their group", () => {
    const events = [
      at("onset", "b1", 10),
      at("no_cue_window", "u", 20, { end_s: 26 }),
      at("marker", "m", 24),
      at("onset", "b2", 30),
    ];
    const moments = [
      { id: "u", role: "window", t_s: 20, outcome: "correct_rejection", s: null },
      { id: "m", role: "paid_wait", t_s: 24, outcome: "paid", s: 0.8 },
    ];
    const [group] = groups([rep("b1", 10), rep("b2", 30)], events, moments);
    expect(group?.rows.map((row) => row.row)).toEqual(["rep", "wait", "rep"]);
    const wait = group?.rows[1] as WaitRow;
    expect([wait.lengthS, wait.wasShown]).toEqual([6, false]);
    expect(wait.marks.map((m) => [m.kind, m.s])).toEqual([
      ["marker", 4],
      ["reward", 4.8],
    ]);
  });

  it("begin a new group where the step changes", () => {
    const reps = [rep("a", 1), rep("b", 5), rep("c", 9, { approximation: "go" })];
    const events = reps.map((r) => at("onset", r.id, r.onset_s));
    expect(groups(reps, events).map((g) => [g.approximation, g.rows.length])).toEqual([
      ["stay", 2],
      ["go", 1],
    ]);
  });
});

describe("the ladder's axis", () => {
  it("is five seconds for short reps and grows with long ones", () => {
    expect(axisFor([]).toS).toBe(5);
    expect(axisFor([0.5, 1, 4.9]).toS).toBe(5);
    expect(axisFor([2, 8, 8.5, 9]).toS).toBe(10);
    expect(axisFor([900]).toS).toBe(500);
  });

  it("does not make all reps small for one long one among many", () => {
    expect(axisFor([...Array<number>(19).fill(1), 40]).toS).toBe(5);
  });

  it("has its onset at the same place whatever its length", () => {
    expect(ladderAxis(50).x(0)).toBeCloseTo(ladderAxis(5).x(0));
    expect(ladderAxis(5).x(99)).toBeLessThanOrEqual(516);
  });
});
