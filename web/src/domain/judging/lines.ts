/** The lines of the judgement, one small function each, in the order of the contract's table. */

import { MINUTE_S, STRENGTH, type Case } from "./case";
import { counted } from "./record";
import { hasRisen } from "./schools";

export type Decision = "raise" | "hold" | "lower" | "split" | "fade" | "proof" | "end" | "none";

/** A line that is true. `help` is the level to fade to, `split` the steps around a new one. */
export interface Finding {
  code: string;
  decision: Decision;
  help?: string;
  split?: readonly [string | null, string | null];
}

export type Line = (at: Case) => Finding | null;

const CRUMB = 1e-9;
const holds = (code: string): Finding => ({ code, decision: "hold" });

/** A step back; without one below, a smaller step before this one. */
function down(at: Case, code: string): Finding {
  return at.below !== null
    ? { code, decision: "lower" }
    : { code, decision: "split", split: [null, at.key] };
}

export const distress: Line = (at) =>
  at.today.signs[2] > 0 ? { code: "distress", decision: "end" } : null;

export const unease: Line = (at) => {
  const { signs, opt_outs: left, attempts } = at.today;
  const often =
    left >= at.number("unease_opt_outs") && left >= at.number("opt_out_share") * attempts;
  const isUneasy = signs[1] >= at.number("unease_signs") || often || (signs[1] > 0 && left > 0);
  return isUneasy ? down(at, "unease") : null;
};

const ruleLower: Line = (at) => (at.school.decision === "lower" ? down(at, "rule_lower") : null);

const fiveMisses: Line = (at) =>
  at.record.run(false) >= at.number("misses") ? down(at, "five_misses") : null;

const mostlyMissed: Line = (at) => {
  const reps = at.number("low_reps");
  const last = at.record.last(reps);
  if (last.length < reps || counted(last) >= at.number("low_share") * reps - CRUMB) return null;
  return down(at, "mostly_missed");
};

function isPaidTooLittle(at: Case): boolean {
  const perMin = at.paid_per_min;
  return perMin !== null && perMin < at.floor_per_min - CRUMB;
}

const rateFloor: Line = (at) =>
  isPaidTooLittle(at) && !at.good && !at.saysRaise ? down(at, "rate_floor") : null;

const slowPay: Line = (at) =>
  isPaidTooLittle(at) && (at.good || at.saysRaise) ? holds("slow_pay") : null;

const easeFirst: Line = (at) => {
  const { signs, opt_outs: left, minutes } = at.today;
  const often =
    signs[0] >= at.number("mild_signs") && signs[0] >= at.number("mild_per_min") * minutes;
  return left > 0 || signs[1] >= at.number("two_signs") || often ? holds("ease_first") : null;
};

/** Failed tries at the next step since it was done there last, each: was it today? */
function triesAbove(at: Case): boolean[] {
  if (at.above === null) return [];
  let tries: boolean[] = [];
  for (const session of at.sessions) {
    const own = session.trials.filter(({ step }) => step === at.above).map(({ met }) => met);
    const isSure = counted(own) >= at.number("sure_share") * own.length - CRUMB;
    const isFailed = counted(own) < at.number("try_share") * own.length - CRUMB;
    if (own.length >= at.number("sure_reps") && isSure) tries = [];
    else if (own.length >= at.number("try_reps") && isFailed) tries.push(session === at.today);
  }
  return tries;
}

const failedAbove: Line = (at) =>
  triesAbove(at).length >= 2
    ? { code: "failed_above", decision: "split", split: [at.key, at.above] }
    : null;

const failedAboveToday: Line = (at) => {
  const tries = triesAbove(at);
  return tries.length === 1 && tries[0] ? holds("failed_above_today") : null;
};

const isOften = (count: number, of: number, least: number, share: number) =>
  count >= least && count >= share * of - CRUMB;

/** A line about counts of today that are mended first. */
function mends(
  code: string,
  countsOf: (at: Case) => readonly [number, number],
  names: readonly [string, string],
): Line {
  return (at) => {
    const [count, of] = countsOf(at);
    return isOften(count, of, at.number(names[0]), at.number(names[1])) ? holds(code) : null;
  };
}

const CUE = ["cue", "cue_share"] as const;
const HAND = ["hand", "hand_share"] as const;
const mendTiming = mends("mend_timing", (at) => at.today.missed, ["missed", "missed_share"]);
const mendPay = mends("mend_pay", (at) => at.today.unpaid, ["unpaid", "unpaid_share"]);
const mendHand = mends("mend_hand", (at) => at.today.hand_first, HAND);
const cueOverlap = mends("cue_overlap", (at) => [at.today.overlapped, at.today.cued], CUE);
const cueRepeated = mends("cue_repeated", (at) => [at.today.repeated, at.today.presentations], CUE);
const foodFirst = mends("food_first", (at) => [at.today.food_first, at.today.exposures], HAND);

/** Most of what made the rule say raise was done with more help than the step allows. */
const helpLeft: Line = (at) => {
  const known = at.school.because.flatMap(({ help }) => (help === null ? [] : [help]));
  if (!at.saysRaise || known.length === 0) return null;
  const atLeast = (place: number) => known.filter((help) => STRENGTH.indexOf(help) >= place).length;
  const place = STRENGTH.findLastIndex((_, n) => 2 * atLeast(n) > known.length);
  if (place >= STRENGTH.indexOf(at.most_help)) return null;
  return { code: "help_left", decision: "fade", help: at.weaker(STRENGTH[place] ?? "none") };
};

export const lureLong: Line = (at) => {
  const lured = at.record.trials.map(({ help }) => help === "food_lure");
  const recent = at.number("lure_recent");
  const isRecent = recent > 0 && lured.slice(-recent).some(Boolean);
  if (counted(lured) <= at.number("lure_reps") || !isRecent) return null;
  return { code: "lure_long", decision: "fade", help: at.weaker("food_lure") };
};

const asks = (at: Case) => at.step?.answers === true;

const notWaiting: Line = (at) => {
  const [alarms, windows] = [at.record.total("alarms"), at.record.total("windows")];
  const isMore = alarms > at.number("alarm_share") * windows + CRUMB;
  return asks(at) && alarms >= at.number("alarms") && isMore ? holds("not_waiting") : null;
};

const notTested: Line = (at) => {
  const isTested = at.record.total("windows") >= at.number("windows");
  return asks(at) && !isTested && notWaiting(at) === null ? holds("not_tested") : null;
};

const wrongAnswers: Line = (at) => {
  const [wrong, asked] = [at.record.total("wrong"), at.record.total("presentations")];
  const isMore = wrong > at.number("wrong_share") * asked + CRUMB;
  return asks(at) && wrong >= at.number("wrong") && isMore ? holds("wrong_answers") : null;
};

/** A level of a condition with which it fails more often than not. */
const uneven: Line = (at) => {
  const levels = new Map<string, boolean[]>();
  for (const { conditions, met } of at.record.trials) {
    for (const item of Object.entries(conditions)) {
      const key = JSON.stringify(item);
      levels.set(key, [...(levels.get(key) ?? []), met]);
    }
  }
  const isWeak = (met: readonly boolean[]) => {
    const last = met.slice(-at.number("level_last"));
    return counted(last) < at.number("level_share") * last.length - CRUMB;
  };
  const tried = [...levels.values()].filter((met) => met.length >= at.number("level_reps"));
  return tried.some(isWeak) ? holds("uneven") : null;
};

const risingPause: Line = (at) =>
  [at.today.pauses, at.today.returns].some((rise) => hasRisen(rise, at.plan))
    ? holds("rising_pause")
    : null;

const moreSigns: Line = (at) =>
  at.today.signs_last >= at.today.signs_first + at.number("more_signs")
    ? holds("more_signs")
    : null;

/** A long wait for pay that reaches into the last third of the work. */
const drySpell: Line = (at) => {
  const { worked, limit_s } = at.today;
  if (worked === null) return null;
  const limit = Math.max(limit_s, 2 * at.cycle_s);
  const isLate = ([length, end]: [number, number]) =>
    length > limit + CRUMB && end > (worked.total * 2) / 3;
  return at.waits.some(isLate) ? holds("dry_spell") : null;
};

const leftEarly: Line = (at) => {
  const last = (at.today.stays[at.key ?? ""] ?? []).slice(-at.number("stays"));
  if (!at.step?.until_release || last.length === 0) return null;
  const isKept = counted(last) >= at.number("kept_share") * last.length - CRUMB;
  return isKept ? null : holds("left_early");
};

export const plateau: Line = (at) => {
  const { met, entries } = at.record;
  const sessions = entries.filter((entry) => entry.trials.length > 0).length;
  if (at.saysRaise || at.plan.rule["kind"] === "percentile") return null;
  if (met.length < at.number("plateau_reps") || sessions < at.number("plateau_sessions")) {
    return null;
  }
  const share = counted(met) / met.length;
  const third = Math.floor(met.length / 3);
  const gain = (counted(met.slice(-third)) - counted(met.slice(0, third))) / third;
  const isBetween = at.number("plateau_low") <= share && share <= at.number("plateau_high");
  if (!isBetween || gain >= at.number("plateau_gain") - CRUMB) return null;
  return { code: "plateau", decision: "split", split: [at.below, at.key] };
};

/** A limit of the plan that was reached, or passed by a fifth: no decision. */
const atLimit: Line = (at) => {
  const reached: [number, number | null][] = [
    [MINUTE_S * at.today.minutes, at.plan.session_cap_s],
    [at.today.attempts, at.plan.rep_cap],
  ];
  const shares = reached.flatMap(([value, cap]) => (cap ? [value / cap] : []));
  const most = Math.max(0, ...shares);
  if (most < 1) return null;
  return holds(most >= at.number("over") - CRUMB ? "over_limit" : "at_limit");
};

/** Lines 1 to 4: they decide whatever the school says. */
export const FIRST: readonly Line[] = [
  ...[distress, unease, ruleLower, fiveMisses, mostlyMissed, rateFloor],
];
/** Line 5: what keeps a raise back, in its order. */
export const KEEPS: readonly Line[] = [
  ...[easeFirst, failedAbove, failedAboveToday, mendTiming, mendPay, mendHand, helpLeft, lureLong],
  ...[cueOverlap, cueRepeated, notWaiting, notTested, wrongAnswers, uneven, risingPause],
  ...[moreSigns, drySpell, leftEarly],
];
/** Said beside and never deciding. */
export const BESIDE: readonly Line[] = [slowPay, atLimit, foodFirst];
