/**
 * The judgement of the last of a behaviour's sessions, in the light of those before: the core's own
 * (`decisions/judging`), line for line, for a phone without a network. Its words stay with the core;
 * here are its codes. `tests/judged/judging.test.ts` holds it to the core on every situation.
 */

import { Case } from "./case";
import type { Digest } from "./digest";
import type { JudgedPlan } from "./judged-plan";
import {
  BESIDE,
  distress,
  FIRST,
  KEEPS,
  lureLong,
  plateau,
  unease,
  type Decision,
  type Finding,
} from "./lines";
import { counted } from "./record";

/** What is said beside, in this order: the animal's ease, then the hands, then pay, then the plan. */
const ORDER: readonly string[] = [
  ...["distress", "unease", "ease_first", "rising_pause", "more_signs", "dry_spell"],
  ...["at_limit", "over_limit"],
  ...["mend_timing", "mend_hand", "cue_overlap", "cue_repeated", "food_first"],
  ...["mend_pay", "rate_floor", "slow_pay"],
  ...["rule_lower", "five_misses", "mostly_missed", "left_early", "failed_above"],
  ...["failed_above_today", "help_left", "lure_long", "not_waiting", "not_tested"],
  ...["wrong_answers", "uneven", "plateau"],
];

export interface LiveJudgement {
  decision: Decision;
  /** Why, as the core's code. */
  why: string;
  step: string | null;
  next_step: string | null;
  help: string | null;
  split_between: readonly [string | null, string | null] | null;
  beside: string[];
  judged: number;
  met: number;
}

/** Judge the last session of a history under its plan. Throws for no session. */
export function judge(history: readonly Digest[], plan: JudgedPlan): LiveJudgement {
  const at = new Case(history, plan);
  const found = decide(at);
  return {
    decision: found.decision,
    why: found.code,
    step: at.key,
    next_step: nextStep(at, found.decision),
    help: found.decision === "fade" ? (found.help ?? null) : null,
    split_between: found.decision === "split" ? (found.split ?? null) : null,
    beside: besideOf(at, found),
    judged: at.record.met.length,
    met: counted(at.record.met),
  };
}

function decide(at: Case): Finding {
  if (isUnjudged(at)) {
    return distress(at) ?? unease(at) ?? { code: "nothing_judged", decision: "none" };
  }
  const first = firstOf(FIRST, at);
  if (first) return first;
  if (at.saysRaise) {
    const keeps = firstOf(KEEPS, at);
    if (keeps) return keeps;
    if (at.step !== null && at.above === null) return { code: "last_step", decision: "proof" };
    return { code: "rule_raise", decision: "raise" };
  }
  const stuck = plateau(at);
  if (stuck) return stuck;
  const lured = lureLong(at);
  const share = at.record.shareOfLast(at.number("last_reps"));
  // Help is not taken from an animal that fails.
  if (lured && share !== null && share >= 0.5) return lured;
  return { code: at.school.reason, decision: "hold" };
}

function firstOf(lines: typeof FIRST, at: Case): Finding | null {
  for (const line of lines) {
    const found = line(at);
    if (found) return found;
  }
  return null;
}

/** Whether there is nothing to decide on; the comfort school decides on ease alone. */
function isUnjudged(at: Case): boolean {
  const isComfort = at.plan.rule["kind"] === "comfort" && at.record.entries.length > 0;
  return at.today.trials.length === 0 && !isComfort;
}

/** Every other finding that is true, each once. */
function besideOf(at: Case, why: Finding): string[] {
  const lines = isUnjudged(at)
    ? [distress, unease, ...KEEPS, ...BESIDE]
    : [...FIRST, ...KEEPS, ...BESIDE, plateau];
  const codes = new Set(lines.flatMap((line) => line(at)?.code ?? []));
  codes.delete(why.code);
  // What decides is not said a second time, weaker.
  if (["distress", "unease"].includes(why.code) || codes.has("unease")) codes.delete("ease_first");
  if (why.code === "distress") codes.delete("unease");
  if (why.code === "failed_above") codes.delete("failed_above_today");
  return [...codes].sort((a, b) => ORDER.indexOf(a) - ORDER.indexOf(b));
}

function nextStep(at: Case, decision: Decision): string | null {
  if (decision === "raise") return at.above ?? at.key;
  return decision === "lower" || decision === "end" ? (at.below ?? at.key) : at.key;
}
