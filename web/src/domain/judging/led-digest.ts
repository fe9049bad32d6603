/**
 * The digest of a session tapped on a phone, as the core makes it (`decisions/judging/digest`) of the
 * same marks. It has no film: nothing is known of markers, hands, cues and stays.
 */

import type { StoredEvent } from "../marks";
import { median } from "./case";
import type { Digest, Rise, Trial, Worked } from "./digest";
import { kendallP } from "./kendall";

/** Instants are held in ticks of half a microsecond, so that comparisons never round. */
const TICKS_PER_S = 2_000_000;
const seconds = (ticks: number) => ticks / TICKS_PER_S;

/** The plan's limits this asks for, seconds. */
export interface LedLimits {
  dry_spell_s: number;
  reward_link_s: number;
}

export interface LedFacts {
  date: string;
  time: string;
  /** When it ended; of a session under way, now. */
  end_s: number;
}

interface Marked {
  event: StoredEvent;
  at: number;
}

interface Bout {
  start: number;
  end: number;
}

/** Marks of one and the same instant are taken in this order. */
const KINDS: readonly string[] = [
  ...["bout_start", "criterion", "off_task_end", "onset", "reward", "sign", "off_task_start"],
  "bout_end",
];

export function ledDigest(
  events: readonly StoredEvent[],
  facts: LedFacts,
  limits: LedLimits,
): Digest {
  const marked = inOrder(events);
  const of = (kind: string) => marked.filter(({ event }) => event.kind === kind);
  const clock = new Clock(boutsOf(marked, Math.round(facts.end_s * TICKS_PER_S)));
  const onsets = of("onset");
  const paidAt = paymentsOf(marked, clock, Math.round(limits.reward_link_s * TICKS_PER_S));
  const stretches = stretchesOf(of("criterion"), onsets, clock);
  const signs = of("sign");
  const severities = signs.map(({ event }) => Number(event.severity ?? 0));
  const worse = (severity: number) => severities.filter((one) => one === severity).length;
  const inThird = (third: number) => signs.filter(({ at }) => clock.thirdOf(at) === third).length;
  const paid = [...new Set(of("reward").map(({ at }) => at))];
  return {
    date: facts.date,
    time: facts.time,
    by_hand: false,
    trials: stretches.flatMap(({ step, onsets: own }, n) =>
      own.flatMap((o) => trialOf(o, step, n)),
    ),
    at_work: atWork(stretches),
    in_force: of("criterion").at(-1)?.event.approximation ?? null,
    attempts: onsets.length,
    minutes: seconds(clock.total) / 60,
    rewards: paid.length,
    signs: [worse(1), worse(2), worse(3)],
    signs_first: inThird(0),
    signs_last: inThird(2),
    opt_outs: of("off_task_start").filter(({ at }) => !clock.isInBreak(at)).length,
    pauses: pausesOf(onsets, paidAt, clock),
    worked: workedOf(stretches, onsets, paidAt, paid, clock),
    limit_s: limits.dry_spell_s,
    ...UNSEEN,
  };
}

/** What only a film shows. */
const UNSEEN = {
  returns: null,
  back_s: {},
  presentations: 0,
  repeated: 0,
  wrong: 0,
  windows: 0,
  alarms: 0,
  cued: 0,
  overlapped: 0,
  exposures: 0,
  food_first: 0,
  missed: [0, 0],
  missed_kinds: { early: 0, late: 0, over: 0 },
  unpaid: [0, 0],
  hand_first: [0, 0],
  stays: {},
} as const;

function inOrder(events: readonly StoredEvent[]): Marked[] {
  const micro = (s: number | undefined) => Math.round((s ?? 0) * 1e6);
  return events
    .map((event) => ({ event, at: 2 * micro(event.t) - micro(event.width) }))
    .sort((a, b) => a.at - b.at || KINDS.indexOf(a.event.kind) - KINDS.indexOf(b.event.kind));
}

function boutsOf(marked: readonly Marked[], end: number): Bout[] {
  const bouts: Bout[] = [];
  let start: number | null = null;
  for (const { event, at } of marked) {
    if (event.kind === "bout_start") start = at;
    if (event.kind === "bout_end" && start !== null) {
      bouts.push({ start, end: at });
      start = null;
    }
  }
  if (start !== null) bouts.push({ start, end: end > start ? end : (marked.at(-1)?.at ?? start) });
  return bouts;
}

/** The training clock: it stands still in breaks. */
class Clock {
  constructor(readonly bouts: readonly Bout[]) {}

  private place(instant: number): number {
    return this.bouts.findLastIndex(({ start }) => start <= instant);
  }

  at(instant: number): number {
    const place = this.place(instant);
    const bout = this.bouts[place];
    if (!bout) return 0;
    const before = this.bouts.slice(0, place).reduce((sum, b) => sum + b.end - b.start, 0);
    return before + Math.min(instant, bout.end) - bout.start;
  }

  get total(): number {
    return this.bouts.reduce((sum, bout) => sum + bout.end - bout.start, 0);
  }

  get end(): number {
    return this.bouts.at(-1)?.end ?? 0;
  }

  /** The bout an instant belongs to; one in a break belongs to the bout before. */
  boutOf(instant: number): number {
    return Math.max(0, this.place(instant));
  }

  isInBreak(instant: number): boolean {
    const bout = this.bouts[this.boutOf(instant)];
    return bout !== undefined && !(bout.start <= instant && instant <= bout.end);
  }

  thirdOf(instant: number): number {
    if (this.total <= 0) return 0;
    return Math.min(2, Math.floor((this.at(instant) * 3) / this.total));
  }
}

interface Stretch {
  step: string | null;
  start: number;
  end: number;
  onsets: Marked[];
}

/** The session cut at its criterion changes; to the same step is no change. */
function stretchesOf(
  changes: readonly Marked[],
  onsets: readonly Marked[],
  clock: Clock,
): Stretch[] {
  const found: Stretch[] = [];
  changes.forEach((change, n) => {
    const next = changes[n + 1];
    const end = next ? next.at : Math.max(clock.end, change.at);
    const own = onsets.filter(({ at }) => at >= change.at && (!next || at < next.at));
    const step = change.event.approximation ?? null;
    const last = found.at(-1);
    if (last?.step === step) {
      last.end = end;
      last.onsets.push(...own);
    } else found.push({ step, start: change.at, end, onsets: own });
  });
  return found;
}

function trialOf({ event }: Marked, step: string | null, stretch: number): Trial[] {
  if (typeof event.met !== "boolean") return [];
  const levels = Object.entries((event.conditions ?? {}) as Record<string, unknown>);
  const conditions = Object.fromEntries(levels.map(([name, level]) => [name, String(level)]));
  const rest = { value: null, help: "none", conditions, id: event.id };
  return [{ step, stretch, met: event.met, ...rest }];
}

function atWork(stretches: readonly Stretch[]): Record<string, number> {
  const found: Record<string, number> = {};
  for (const { step, onsets } of stretches) {
    if (onsets.length > 0) found[step ?? ""] = (found[step ?? ""] ?? 0) + onsets.length;
  }
  return found;
}

/** By onset: when its last reward came. A reward pays the latest rep of its bout, soon enough. */
function paymentsOf(marked: readonly Marked[], clock: Clock, limit: number): Map<string, number> {
  const found = new Map<string, number>();
  let latest: Marked | null = null;
  for (const one of marked) {
    if (one.event.kind === "onset") latest = one;
    if (one.event.kind !== "reward" || latest === null) continue;
    const isSame = clock.boutOf(latest.at) === clock.boutOf(one.at);
    if (isSame && one.at - latest.at <= limit) found.set(latest.event.id, one.at);
  }
  return found;
}

/** From a rep's last reward to the next onset of its bout; of several to the same, the last. */
function pausesOf(
  onsets: readonly Marked[],
  paidAt: ReadonlyMap<string, number>,
  clock: Clock,
): Rise | null {
  const begins = new Map<number, number>();
  onsets.forEach(({ event, at }, n) => {
    const paid = paidAt.get(event.id);
    if (paid === undefined) return;
    const later = onsets.findIndex((one) => one.at >= paid);
    const next = Math.max(later === -1 ? onsets.length : later, n + 1);
    const following = onsets[next];
    if (!following || clock.boutOf(at) !== clock.boutOf(following.at)) return;
    if (paid > (begins.get(next) ?? -Infinity)) begins.set(next, paid);
  });
  const values: number[] = [];
  const minutes: number[] = [];
  for (const [next, from] of [...begins].sort(([a], [b]) => a - b)) {
    const to = onsets[next]?.at ?? from;
    values.push(seconds(to - from));
    minutes.push(seconds(clock.at(to)) / 60);
  }
  if (values.length === 0) return null;
  const third = Math.floor(values.length / 3);
  return {
    n: values.length,
    p: kendallP(minutes, values),
    first_s: third > 0 ? median(values.slice(0, third)) : null,
    last_s: third > 0 ? median(values.slice(-third)) : null,
  };
}

/** What comes after the last rep is no work. */
function workedOf(
  stretches: readonly Stretch[],
  onsets: readonly Marked[],
  paidAt: ReadonlyMap<string, number>,
  paid: readonly number[],
  clock: Clock,
): Worked | null {
  if (onsets.length === 0 || clock.total === 0) return null;
  const ends = onsets.map(({ event, at }) => Math.max(at, paidAt.get(event.id) ?? at));
  const end = clock.at(Math.max(...ends));
  const at = (instant: number) => seconds(Math.min(clock.at(instant), end));
  return {
    stretches: stretches.map(({ step, start, end: to }) => [step, at(start), at(to)] as const),
    paid: paid.map(at),
    total: at(clock.end),
  };
}
