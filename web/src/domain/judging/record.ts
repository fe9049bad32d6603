/** The judged session's step, and the record of that step: what the school decides on. */

import type { Digest, Trial } from "./digest";
import { numberOf, placeOf, type JudgedPlan } from "./judged-plan";

const DAY_MS = 86_400_000;

/** What one session adds to the record. */
export interface Entry {
  digest: Digest;
  trials: readonly Trial[];
}

/** The judged attempts at one step, oldest first, since the last one at any step above it. */
export class StepRecord {
  readonly trials: readonly Trial[];
  readonly met: readonly boolean[];

  constructor(
    readonly step: string | null,
    readonly entries: readonly Entry[],
  ) {
    this.trials = entries.flatMap((entry) => entry.trials);
    this.met = this.trials.map((trial) => trial.met);
  }

  /** The last so many. */
  last(count: number): readonly boolean[] {
    return count > 0 ? this.met.slice(-count) : [];
  }

  total(name: "alarms" | "windows" | "wrong" | "presentations"): number {
    return this.entries.reduce((sum, entry) => sum + entry.digest[name], 0);
  }

  /** The share that fit of the last so many; fewer are taken as they are, none is null. */
  shareOfLast(count: number): number | null {
    const last = this.last(count);
    return last.length > 0 ? counted(last) / last.length : null;
  }

  /** How many in a row, up to the last, fit (or did not); by hand only where all of it was so. */
  run(met: boolean): number {
    let count = 0;
    for (const { digest, trials } of [...this.entries].reverse()) {
      const own = trials.map((trial) => trial.met);
      const ending = [...own].reverse().findIndex((m) => m !== met);
      const all = ending === -1;
      const inARow = digest.by_hand ? (all ? own.length : 0) : all ? own.length : ending;
      count += inARow;
      if (inARow < own.length) break;
    }
    return count;
  }
}

/** How many are true. */
export const counted = (met: readonly boolean[]): number => met.filter(Boolean).length;

/** By day, then by time of day (missing first), then as they were given. */
export function inOrder(history: readonly Digest[]): Digest[] {
  const keyOf = (digest: Digest) => [digest.date ?? "", digest.time ?? ""] as const;
  return [...history].sort((one, other) => {
    const [a, b] = [keyOf(one), keyOf(other)];
    return compare(a[0], b[0]) || compare(a[1], b[1]);
  });
}

const compare = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0);

/** The sessions not older than `memory_days` before the last; where no day is said, all. */
export function withinMemory(history: readonly Digest[], last: Digest, plan: JudgedPlan): Digest[] {
  const oldest =
    last.date === null ? null : dayOf(last.date) - numberOf(plan, "memory_days") * DAY_MS;
  return history.filter(({ date }) => oldest === null || date === null || dayOf(date) >= oldest);
}

const dayOf = (date: string) => Date.parse(`${date}T00:00:00Z`);

/** The step of the last stretch with a judged attempt; an easy end is passed over. */
export function stepJudged(session: Digest, plan: JudgedPlan): string | null {
  const stretches: Trial[][] = [];
  for (const trial of session.trials) {
    const last = stretches.at(-1);
    if (last?.[0]?.stretch === trial.stretch) last.push(trial);
    else stretches.push([trial]);
  }
  const last = stretches.at(-1);
  if (!last?.[0]) return session.in_force;
  const before = stretches.at(-2);
  const isShort = last.length < numberOf(plan, "easy_end") && last.every(({ met }) => met);
  if (before?.[0] && isShort) {
    const [here, there] = [placeOf(plan, last[0].step), placeOf(plan, before[0].step)];
    const isBelow = here >= 0 && there >= 0 && here < there;
    const met = before.filter((trial) => trial.met).length;
    if (isBelow && 2 * met >= before.length) return before[0].step;
  }
  return last[0].step;
}

/** The record of a step over sessions in order; a session that adds nothing is not in it. */
export function recordOf(
  history: readonly Digest[],
  step: string | null,
  plan: JudgedPlan,
): StepRecord {
  const place = placeOf(plan, step);
  let entries: Entry[] = [];
  for (const digest of history) {
    let own: Trial[] = [];
    // Whether the session was at the step after it was last above it.
    let isAtWork = (digest.at_work[step ?? ""] ?? 0) > 0;
    for (const trial of digest.trials) {
      if (place >= 0 && placeOf(plan, trial.step) > place) {
        own = [];
        entries = [];
        isAtWork = false;
      } else if (trial.step === step) {
        own.push(trial);
        isAtWork = true;
      }
    }
    if (isAtWork) entries.push({ digest, trials: own });
  }
  return new StepRecord(step, entries);
}
