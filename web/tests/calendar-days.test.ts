import { describe, expect, it } from "vitest";

import {
  monthAfter,
  monthWeeks,
  saidWords,
  stageWords,
  type BehaviourDays,
} from "../src/domain/calendar-days";

const span = {
  name: "Rope in sight",
  kind: "getting_used" as const,
  until: "look",
  first: "2026-05-04",
  not_before: "2026-05-17",
  expected: "2026-05-19",
  ended: null,
  done: 3,
  goes: 8,
  is_judged: false,
  most_weeks: 3,
};

const bell = (more: Partial<BehaviourDays["calendar"]> = {}): BehaviourDays => ({
  behaviour_id: "b",
  learner: "Thistle",
  behaviour: "Ring the bell",
  rungs: [{ name: "height", value: 20, unit: "cm", day: "2026-05-12" }],
  due: "2026-05-08T07:30:00",
  calendar: {
    done: [{ id: "s1", day: "2026-05-05", step: "look", decision: "hold" }],
    planned: [
      { day: "2026-05-08", stage: 0, go: 4, of: 8 },
      { day: "2026-05-09", stage: 0, go: 9, of: null },
    ],
    stages: [span],
    now: 0,
    a_day: 1,
    a_week: 4,
    rest: [6],
    said: [],
    ...more,
  },
});

const on = (weeks: ReturnType<typeof monthWeeks>, day: string) =>
  weeks
    .flat()
    .find((one) => one.day === day)!
    .entries.map(({ sort, words }) => [sort, words]);

describe("the days of a month", () => {
  it.each([
    // May 2026 begins on a Friday and ends on a Sunday; February 2027 fits four weeks exactly.
    ["2026-05", "2026-04-27", 5, "2026-05-31"],
    ["2027-02", "2027-02-01", 4, "2027-02-28"],
    ["2026-08", "2026-07-27", 6, "2026-09-06"],
    ["2026-12", "2026-11-30", 5, "2027-01-03"],
  ])("lays %s out in whole weeks from Monday on", (month, first, weeks, last) => {
    const found = monthWeeks(month, []);
    expect(found.map((week) => week.length)).toEqual(Array(weeks).fill(7));
    expect(found[0]?.[0]?.day).toBe(first);
    expect(found.at(-1)?.at(-1)?.day).toBe(last);
    const inside = found.flat().filter((one) => one.isInMonth);
    expect(inside.every((one) => one.day.startsWith(month))).toBe(true);
    const [year, number] = month.split("-").map(Number);
    expect(inside).toHaveLength(new Date(year!, number!, 0).getDate());
  });

  it("puts everything on its day, the set hour first", () => {
    const weeks = monthWeeks("2026-05", [bell()]);
    expect(on(weeks, "2026-05-05")).toEqual([["held", "trained"]]);
    expect(on(weeks, "2026-05-08")).toEqual([["planned", "07:30 · Rope in sight, 4 of 8"]]);
    // Beyond its number of sessions a stage goes on until it is judged.
    expect(on(weeks, "2026-05-09")).toEqual([["planned", "Rope in sight"]]);
    expect(on(weeks, "2026-05-12")).toEqual([["rung", "↑ 20 cm"]]);
    expect(on(weeks, "2026-05-19")).toEqual([["stage", "Rope in sight may end"]]);
    expect(on(weeks, "2026-05-06")).toEqual([]);
  });

  it("counts several sessions of a day once, and leads to the last", () => {
    const held = (id: string) => ({ id, day: "2026-05-05", step: "look", decision: "hold" });
    const weeks = monthWeeks("2026-05", [bell({ done: [held("s1"), held("s2")] })]);
    const [entry, ...more] = weeks.flat().find((one) => one.day === "2026-05-05")!.entries;
    expect(more).toEqual([]);
    expect([entry?.times, entry?.session, entry?.long]).toEqual([2, "s2", "trained × 2"]);
  });

  it("shows the end of a stage on the day it ended", () => {
    const ended = { ...span, ended: "2026-05-17", is_judged: true };
    const weeks = monthWeeks("2026-05", [bell({ stages: [ended], now: null })]);
    expect(on(weeks, "2026-05-17")).toEqual([["stage", "Rope in sight ended"]]);
    expect(on(weeks, "2026-05-19")).toEqual([]);
    expect(stageWords(ended)).toContain("over since Sun");
    expect(stageWords(span)).toBe("3 of 8 sessions, ends Tue 19 May at the earliest");
  });

  it("goes over the turn of the year", () => {
    expect(monthAfter("2026-12", 1)).toBe("2027-01");
    expect(monthAfter("2027-01", -1)).toBe("2026-12");
    expect(monthAfter("2026-05", 0)).toBe("2026-05");
  });
});

describe("what is said of the days", () => {
  it("says too soon and too long ago in words", () => {
    const { calendar } = bell();
    const said = { stage: null, day: "2026-05-05", days: 9 };
    expect(saidWords({ code: "too_long_ago", ...said }, calendar)).toContain("9 days without it");
    expect(saidWords({ code: "faded", ...said, days: 20 }, calendar)).toContain("a step lower");
    expect(saidWords({ code: "too_soon", ...said, stage: 0 }, calendar)).toContain(
      "“Rope in sight” is not over",
    );
    expect(saidWords({ code: "too_often", ...said, days: 2 }, calendar)).toContain(
      "2 sessions on Tue 5 May, where 1 a day",
    );
    expect(saidWords({ code: "wait_for_judgement", ...said, stage: 0 }, calendar)).toContain(
      "not by the date",
    );
  });
});
