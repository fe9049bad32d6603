/** What the schools say of a record: when to raise, hold or lower. */

import type { Digest, Rise, Trial } from "./digest";
import { numberOf, parameter, type JudgedPlan, type JudgedStep, type Rule } from "./judged-plan";
import { counted, type StepRecord } from "./record";

/** A share of counts is compared as counts: 0.8 of 10 must not fail by a rounding crumb. */
const CRUMB = 1e-9;

/** A school's answer and why it holds. `because` are the attempts that made it say raise. */
export interface SchoolSays {
  decision: "raise" | "hold" | "lower";
  reason: string;
  because: readonly Trial[];
}

const hold = (reason: string): SchoolSays => ({ decision: "hold", reason, because: [] });
const raise = (because: readonly Trial[]): SchoolSays => ({
  decision: "raise",
  reason: "met",
  because,
});
const LOWER: SchoolSays = { decision: "lower", reason: "failed", because: [] };

/** What the plan's school says of the record. */
export function ask(plan: JudgedPlan, step: JudgedStep | null, record: StepRecord): SchoolSays {
  const { rule } = plan;
  switch (rule["kind"]) {
    case "run":
      return run(rule, record);
    case "share":
      return share(rule, record);
    case "block":
      return block(rule, record);
    case "percentile":
      return percentile(rule, record, step?.quantity ?? null);
    case "comfort":
      return comfort(plan, record);
    default:
      throw new Error(`the plan follows an unknown school, ${rule["kind"] ?? "none"}`);
  }
}

function run(rule: Rule, record: StepRecord): SchoolSays {
  const [need, miss] = [parameter(rule, "need"), parameter(rule, "miss")];
  const [inARow, misses] = [record.run(true), record.run(false)];
  if (need > 0 && inARow >= need) return raise(record.trials.slice(-need));
  if (miss > 0 && misses >= miss) return LOWER;
  return hold(record.met.length < need ? "too_few" : "between");
}

function share(rule: Rule, record: StepRecord): SchoolSays {
  const window = parameter(rule, "window");
  const above = parameter(rule, "raise") * window - CRUMB;
  const below = parameter(rule, "lower") * window - CRUMB;
  const last = record.last(window);
  if (last.length < window) return hold("too_few");
  if (counted(last) >= above) return raise(record.trials.slice(-window));
  if (counted(last) < below) return LOWER;
  return hold("between");
}

/** Between block ends the last full block's answer stands, while the open one agrees. */
function block(rule: Rule, record: StepRecord): SchoolSays {
  const size = parameter(rule, "size");
  const into = record.met.length % size;
  const ended = record.met.length - into;
  const full = record.met.slice(0, ended).slice(-size);
  const begun = record.met.slice(ended);
  const needed = parameter(rule, "raise_at");
  if (full.length === 0) return hold("too_few");
  if (counted(full) >= needed && begun.every(Boolean)) {
    return raise(record.trials.slice(0, ended).slice(-size));
  }
  const isAgainst = begun.length === 0 || 2 * counted(begun) < begun.length;
  if (counted(full) <= parameter(rule, "lower_at") && isAgainst) return LOWER;
  return hold(into > 0 ? "mid_block" : "between");
}

/** The criterion moves within the step; past the step's target the next step comes. */
function percentile(rule: Rule, record: StepRecord, quantity: JudgedStep["quantity"]): SchoolSays {
  const window = parameter(rule, "window");
  const valued = record.trials.filter((trial) => trial.value !== null);
  // Where less is better the scale is turned round, and the answer turned back.
  const sign = quantity?.better === "less" ? -1 : 1;
  const values = valued.map((trial) => sign * (trial.value ?? 0));
  const criterion = movingCriterion(values, window, parameter(rule, "w"));
  if (criterion === null) return hold("too_few");
  const target = quantity?.target ?? null;
  if (target !== null && criterion >= sign * target) return raise(valued.slice(-window));
  return hold("between");
}

/** The k-th smallest of the last `window`: what the next value must exceed. */
function movingCriterion(values: readonly number[], window: number, w: number): number | null {
  if (values.length < window) return null;
  const k = Math.max(1, Math.floor((window + 1) * (1 - w) + CRUMB));
  const sorted = values.slice(-window).sort((a, b) => a - b);
  return sorted[Math.min(k, window) - 1] ?? null;
}

function comfort(plan: JudgedPlan, record: StepRecord): SchoolSays {
  const wanted = parameter(plan.rule, "clean_sessions");
  const { entries } = record;
  const last = entries.at(-1)?.digest;
  const unclean = [...entries].reverse().findIndex(({ digest }) => !isClean(digest, plan));
  const clean = unclean === -1 ? entries.length : unclean;
  if (last && (last.signs[2] > 0 || last.signs[1] >= 2 || last.opt_outs >= 2)) return LOWER;
  const good = record.shareOfLast(numberOf(plan, "last_reps"));
  if (clean >= wanted && (good === null || good >= numberOf(plan, "good_share"))) {
    // As the core has it: of no wanted session all count.
    return raise(entries.slice(wanted === 0 ? 0 : -wanted).flatMap((entry) => entry.trials));
  }
  return hold(clean < wanted ? "too_few" : "between");
}

function isClean(session: Digest, plan: JudgedPlan): boolean {
  const atEase = session.signs[1] + session.signs[2] + session.opt_outs === 0;
  return atEase && !hasRisen(session.pauses, plan) && !hasRisen(session.returns, plan);
}

/** Beyond chance, and by enough to notice. */
export function hasRisen(rise: Rise | null, plan: JudgedPlan): boolean {
  if (rise?.p == null || rise.first_s === null || rise.last_s === null) return false;
  const least = Math.max(numberOf(plan, "pause_rise_s"), rise.first_s / 2);
  const isTrend = rise.n >= numberOf(plan, "pauses") && rise.p < numberOf(plan, "pause_p");
  return isTrend && rise.last_s - rise.first_s >= least;
}
