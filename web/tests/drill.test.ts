import { describe, expect, it } from "vitest";

import { DrillRecord, isPress, middle, poseAt, type Act } from "../src/domain/drill";

const lift: Act = {
  moved: "lift",
  approach_s: 1,
  begins_s: 1.5,
  ends_s: 2.5,
  rests_s: 3,
  whole: true,
};

describe("the drawn animal", () => {
  it("is there from the instant it begins to the instant it ends, and at no other", () => {
    const at = (s: number) => poseAt([lift], s).lift;
    expect(at(0.99)).toBe(0);
    expect(at(1.25)).toBeCloseTo(0.5);
    expect(at(1.4999)).toBeLessThan(1);
    expect(at(1.5)).toBe(1);
    expect(at(2.4999)).toBe(1);
    expect(at(2.5)).toBeLessThan(1);
    expect(at(2.75)).toBeCloseTo(0.5);
    expect(at(3)).toBe(0);
  });

  it("never gets there where it only seems to", () => {
    const fake = { ...lift, whole: false };
    for (let s = 0; s < 4; s += 0.01) expect(poseAt([fake], s).lift).toBeLessThanOrEqual(0.8);
    expect(poseAt([fake], 2).lift).toBe(0.8);
  });

  it("moves its parts each by itself", () => {
    const look: Act = { ...lift, moved: "look", begins_s: 2, ends_s: 2.6 };
    const pose = poseAt([lift, look], 2.55);
    expect(pose.look).toBe(1);
    expect(pose.lift).toBeLessThan(1);
    expect(pose.touch).toBe(0);
  });
});

const window = (due_s: number | null) => ({
  on: "begins" as const,
  opens_s: 0,
  due_s,
  closes_s: 9,
});

describe("what is kept of a drill", () => {
  it("is the first frame an instant was in, and how long after the frame before it", () => {
    const record = new DrillRecord([window(null), window(0.02), window(0.05)]);
    for (const s of [0, 0.016, 0.032, 0.048, 0.096]) record.frame(s);
    expect(record.measured().shown).toEqual({
      1: [0.032, expect.closeTo(0.016)],
      2: [0.096, expect.closeTo(0.048)],
    });
  });

  it("is as late as what it is counted from, and faltered where that did or itself did", () => {
    const held = (since_s: number) => ({ ...window(since_s + 1), since_s });
    const record = new DrillRecord([held(1), held(3)]);
    for (const s of [0, 0.98, 1.05, 1.98, 2, 2.99, 3.01, 3.91, 4.01]) record.frame(s);
    expect(record.measured().shown).toEqual({
      0: [expect.closeTo(2.05), expect.closeTo(0.07)],
      1: [expect.closeTo(4.01), expect.closeTo(0.1)],
    });
  });

  it("takes an instant for shown that differs by the last digit of a sum", () => {
    const record = new DrillRecord([window(0.1 + 0.2)]);
    record.frame(0.3);
    expect(record.measured().shown).toEqual({ 0: [0.3, 0] });
  });

  it("says when a picture was seen, where that is another time than the film's own", () => {
    const record = new DrillRecord([window(2)]);
    record.frame(1.96, 1.97);
    record.frame(2, 2.013);
    expect(record.measured().shown[0]?.[0]).toBe(2.013);
    expect(record.measured().shown[0]?.[1]).toBeCloseTo(0.043);
  });

  it("counts no time in which nothing was played", () => {
    const record = new DrillRecord([window(5)]);
    record.frame(1);
    record.frame(1.04);
    record.rest();
    record.frame(5);
    expect(record.measured().shown).toEqual({ 0: [5, 0] });
    expect(record.measured().picture_s).toBeCloseTo(0.04);
  });

  it("has the usual time from picture to picture, and the display's own where that differs", () => {
    const record = new DrillRecord([]);
    for (const s of [0, 0.04, 0.08, 0.3, 0.34]) record.frame(s);
    expect(record.measured().picture_s).toBeCloseTo(0.04);
    expect(record.measured().frame_s).toBeCloseTo(0.04);
    expect(record.measured(1 / 60).frame_s).toBe(1 / 60);
  });

  it("says by what most was pressed", () => {
    const record = new DrillRecord([]);
    expect(record.measured().by).toBe("key");
    record.press(1, "key");
    record.press(2, "touch");
    record.press(3, "touch");
    expect(record.measured()).toMatchObject({ by: "touch", presses: [1, 2, 3] });
  });
});

it("has a middle one", () => {
  expect(middle([3, 1, 2])).toBe(2);
  expect(middle([])).toBe(0);
});

it("takes no key for a press that is held down or means something else", () => {
  const key = (values: Partial<KeyboardEvent>) =>
    isPress({ repeat: false, key: "j", ...values } as KeyboardEvent);
  expect(key({})).toBe(true);
  expect(key({ key: " " })).toBe(true);
  expect(key({ repeat: true })).toBe(false);
  for (const name of ["Escape", "Tab", "Shift"]) expect(key({ key: name })).toBe(false);
});
