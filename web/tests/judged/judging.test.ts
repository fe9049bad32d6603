/**
 * The phone's own judging against the core's: `make test-web` lets the core judge its situations and
 * random histories of every school (`tools/judged_cases.py`), and here the same must come out.
 */

import { describe, expect, it } from "vitest";

import { readDigest, type Digest, type SentDigest } from "../../src/domain/judging/digest";
import { judge, type LiveJudgement } from "../../src/domain/judging/judge";
import type { JudgedPlan } from "../../src/domain/judging/judged-plan";
import { kendallP } from "../../src/domain/judging/kendall";
import { ledDigest, type LedFacts, type LedLimits } from "../../src/domain/judging/led-digest";
import type { StoredEvent } from "../../src/domain/marks";

interface Cases {
  judged: { name: string; plan: JudgedPlan; history: SentDigest[]; said: LiveJudgement }[];
  led: {
    plan: JudgedPlan;
    events: StoredEvent[];
    facts: LedFacts;
    limits: LedLimits;
    digest: SentDigest;
  }[];
}

const made = import.meta.glob<Cases>("../.made/judged-cases.json", {
  eager: true,
  import: "default",
});
const cases = Object.values(made)[0];
if (!cases) throw new Error("no cases: `make test-web` makes them");

describe("the judgement", () => {
  it("has every school, decision and most reasons to be held against", () => {
    const all = cases.judged;
    expect(new Set(all.map(({ plan }) => plan.rule.kind)).size).toBe(5);
    expect(new Set(all.map(({ said }) => said.decision)).size).toBe(8);
    const codes = new Set(all.flatMap(({ said }) => [said.why, ...said.beside]));
    expect(codes.size).toBeGreaterThan(30);
  });

  it.each(cases.judged.map((one) => [one.name, one] as const))("%s", (_, one) => {
    expect(judge(one.history.map(readDigest), one.plan)).toEqual(one.said);
  });
});

describe("a session tapped on a phone", () => {
  it.each(cases.led.map((one, n) => [n, one] as const))("number %i in short", (_, one) => {
    const own = ledDigest(one.events, one.facts, one.limits);
    const theirs = readDigest(one.digest);
    expect(close(own)).toEqual(close(theirs));
    if (theirs.pauses?.p == null) expect(own.pauses?.p ?? null).toBeNull();
    else expect(own.pauses?.p).toBeCloseTo(theirs.pauses.p, 6);
    expect(judge([own], one.plan)).toEqual(judge([theirs], one.plan));
  });
});

/** Rounded where the last digits may differ. */
function close({ pauses, worked, minutes, ...rest }: Digest) {
  const six = (value: number | null) => (value === null ? null : Number(value.toFixed(6)));
  return {
    ...rest,
    minutes: six(minutes),
    pauses: pauses && {
      n: pauses.n,
      first_s: six(pauses.first_s),
      last_s: six(pauses.last_s),
    },
    worked: worked && {
      stretches: worked.stretches.map(([step, from, to]) => [step, six(from), six(to)]),
      paid: worked.paid.map(six),
      total: six(worked.total),
    },
  };
}

describe("Kendall's test", () => {
  // Values of scipy.stats.kendalltau, 1.17.
  it.each([
    [[1, 2, 3], [1, 3, 2], 1],
    [[1, 2, 3, 4, 5, 6, 7, 8], [1, 2, 3, 4, 5, 6, 8, 7], 0.0003968253968253968],
    [[1, 2, 3, 4, 5, 6], [2, 1, 3, 3, 5, 4], 0.0557826],
  ])("%j against %j", (x, y, p) => {
    expect(kendallP(x, y)).toBeCloseTo(p, 6);
  });

  it("says nothing of too few values or none that differ", () => {
    expect(kendallP([1, 2], [1, 2])).toBeNull();
    expect(kendallP([1, 2, 3], [4, 4, 4])).toBeNull();
  });
});
