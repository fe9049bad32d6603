/** All that the lines of the judgement look at: the last session, its step, the step's record. */

import type { Digest } from "./digest";
import {
  numberOf,
  stepAbove,
  stepBelow,
  stepOf,
  type JudgedPlan,
  type JudgedStep,
} from "./judged-plan";
import { inOrder, recordOf, stepJudged, withinMemory, type StepRecord } from "./record";
import { ask, type SchoolSays } from "./schools";

export const MINUTE_S = 60;
const CRUMB = 1e-9;
/** Levels of help, the strongest first. */
export const STRENGTH = ["physical", "food_lure", "target", "empty_hand", "gesture", "none"];
/** The next weaker help where the plan names none (common practice). */
const WEAKER: Readonly<Record<string, string>> = {
  physical: "target",
  target: "gesture",
  gesture: "none",
  food_lure: "empty_hand",
  empty_hand: "gesture",
  none: "none",
};

export class Case {
  readonly today: Digest;
  readonly sessions: readonly Digest[];
  readonly key: string | null;
  readonly step: JudgedStep | null;
  readonly record: StepRecord;
  readonly school: SchoolSays;
  readonly below: string | null;
  readonly above: string | null;

  /** Throws for no session. */
  constructor(
    history: readonly Digest[],
    readonly plan: JudgedPlan,
  ) {
    const ordered = inOrder(history);
    const today = ordered.at(-1);
    if (!today) throw new Error("no session to judge");
    this.today = today;
    this.sessions = withinMemory(ordered, today, plan);
    this.key = stepJudged(today, plan);
    this.step = stepOf(plan, this.key);
    this.record = recordOf(this.sessions, this.key, plan);
    this.school = ask(plan, this.step, this.record);
    this.below = stepBelow(plan, this.step);
    this.above = stepAbove(plan, this.key);
  }

  number(name: string): number {
    return numberOf(this.plan, name);
  }

  get saysRaise(): boolean {
    return this.school.decision === "raise";
  }

  /** Whether enough of the last reps fit: then too little pay is not the animal's fault. */
  get good(): boolean {
    const share = this.record.shareOfLast(this.number("last_reps"));
    return share !== null && share >= this.number("good_share");
  }

  /** Seconds one rep of this step takes: cycle, hold, and the way back. */
  get cycle_s(): number {
    const back = this.record.entries.flatMap(({ digest }) => digest.back_s[this.key ?? ""] ?? []);
    return this.number("cycle_s") + (this.step?.hold_s ?? 0) + (median(back) ?? 0);
  }

  /** The least pay: the step's own, else the smaller of the plan's and what a cycle allows. */
  get floor_per_min(): number {
    const own = this.step?.rate_floor_per_min ?? null;
    if (own !== null) return own;
    const possible = this.cycle_s > 0 ? MINUTE_S / this.cycle_s : Infinity;
    const planned = this.plan.rate_floor_per_min;
    return planned === null ? possible : Math.min(planned, possible);
  }

  /** Reinforcements a minute at the end of the work at this step; null where too little is. */
  get paid_per_min(): number | null {
    const { by_hand, minutes, rewards, worked } = this.today;
    if (by_hand) return rewards !== null && minutes >= 1 ? rewards / minutes : null;
    if (worked === null) return null;
    const own = worked.stretches.filter(([step, from, to]) => step === this.key && to > from);
    const span = Math.max(MINUTE_S, 2 * this.cycle_s);
    let [left, count] = [span, 0];
    for (const [, from, to] of [...own].reverse()) {
      const begin = Math.max(from, to - left);
      // A reward on the last instant of a stretch belongs to it.
      count += worked.paid.filter((paid) => begin < paid && paid <= to).length;
      left -= to - begin;
      if (left <= CRUMB) return count / (span / MINUTE_S);
    }
    return null;
  }

  /** Stretches of the work without pay: length and end, seconds of the worked clock. */
  get waits(): [number, number][] {
    const { worked } = this.today;
    if (worked === null) return [];
    const instants = [0, ...worked.paid, worked.total];
    return instants.slice(1).map((to, n) => [to - (instants[n] ?? 0), to]);
  }

  /** The most help with which the step still counts as reached. */
  get most_help(): string {
    if (this.step?.help) return this.step.help;
    const { prompts } = this.plan;
    if (prompts.length === 0 || this.above === null) return "none";
    return STRENGTH.find((level) => prompts.includes(level)) ?? "none";
  }

  /** The next weaker help: the plan's, else by common practice. */
  weaker(level: string): string {
    const { prompts } = this.plan;
    if (prompts.length === 0) return WEAKER[level] ?? "none";
    const below = STRENGTH.slice(STRENGTH.indexOf(level) + 1);
    return below.find((one) => one === "none" || prompts.includes(one)) ?? "none";
  }
}

export function median(values: readonly number[]): number | null {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  const upper = sorted[middle] ?? 0;
  return sorted.length % 2 === 1 ? upper : ((sorted[middle - 1] ?? 0) + upper) / 2;
}
