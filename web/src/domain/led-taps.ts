/** The taps of a led session as edits, and what may be shown of it at any moment. */

import { readDigest, type Digest } from "./judging/digest";
import { judge, type LiveJudgement } from "./judging/judge";
import { ledDigest } from "./judging/led-digest";
import type { LedSession } from "./led-sessions";
import { freshId, type EditBody, type Folded, type StoredEvent } from "./marks";
import type { ScriptLine } from "./script";
import { TAP_WIDTH_S } from "./taps-on-film";

/** Seconds of the session's own clock: its first tap stands half a width after its beginning. */
export function clockOf(session: LedSession, now_ms: number): number {
  const passed = (now_ms - Date.parse(session.began_at)) / 1000;
  return Math.round((TAP_WIDTH_S / 2 + Math.max(0, passed)) * 1000) / 1000;
}

type Fields = Record<string, unknown>;

function put(kind: StoredEvent["kind"], t: number, fields: Fields = {}): EditBody {
  const at = { t, width: TAP_WIDTH_S, source: "tap", clock: "phone" as const };
  return { op: "put", event: { id: freshId(), kind, ...at, ...fields } };
}

export const begins = (t: number, step: string): EditBody[] => [
  put("bout_start", t),
  put("criterion", t, { approximation: step }),
];

export const turnsTo = (t: number, step: string): EditBody[] => [
  put("criterion", t, { approximation: step }),
];

/** A rep that fits, with its rewards, or does not; under the levels of a script's line. */
export function tried(t: number, met: boolean, line: ScriptLine | null): EditBody[] {
  const levels = line?.levels ?? {};
  const conditions = Object.keys(levels).length > 0 ? { conditions: levels } : {};
  const rep = put("onset", t, { met, ...conditions });
  if (!met) return [rep];
  const placement = line?.placement ? { placement: line.placement } : {};
  const pieces = Math.max(1, line?.pays ?? 1);
  return [rep, put("reward", t, { ...placement, ...(pieces > 1 && { pieces }) })];
}

/** A wait of a script, in which nothing was asked: its pay. */
export const paidWait = (t: number): EditBody[] => [put("reward", t)];

export const showsSign = (t: number, label: string, severity: number): EditBody[] => [
  put("sign", t, { label, severity }),
];
export const leaves = (t: number): EditBody[] => [put("off_task_start", t)];
export const comesBack = (t: number): EditBody[] => [put("off_task_end", t)];
export const breaks = (t: number): EditBody[] => [put("bout_end", t)];
export const goesOn = (t: number): EditBody[] => [put("bout_start", t)];

/** The end: the last bout closes where it is open, and the session's length is said. */
export function ends(t: number, isBreak: boolean): EditBody[] {
  const end: EditBody = { op: "facts", set: { end_s: t - TAP_WIDTH_S / 2 } };
  return isBreak ? [end] : [put("bout_end", t), end];
}

export interface LedState {
  digest: Digest;
  said: LiveJudgement;
  /** The step in force. */
  step: string | null;
  isBreak: boolean;
  isAway: boolean;
  /** Reps at the step in force since it came into force, that fit and in all. */
  met: number;
  tried: number;
  pieces: number;
}

/** Where a session stands now, and what the school says. */
export function ledState(session: LedSession, folded: Folded, now_ms: number): LedState {
  const { kit } = session;
  const events = [...folded.events.values()];
  const [date = "", time = ""] = session.began_at.split("T");
  const end = clockOf(session, now_ms) - TAP_WIDTH_S / 2;
  const facts = { date, time: time.slice(0, 5), end_s: end };
  const digest = ledDigest(events, facts, kit.limits);
  // As everywhere a session is judged with those before it, by the clock on the wall.
  const history = kit.history.map(readDigest).filter((before) => isBefore(before, digest));
  const inOrder = [...events].sort((a, b) => (a.t ?? 0) - (b.t ?? 0));
  const last = (...kinds: string[]) => inOrder.findLast(({ kind }) => kinds.includes(kind))?.kind;
  const stretch = digest.trials.at(-1)?.stretch;
  const isHere = digest.trials.at(-1)?.step === digest.in_force;
  const here = isHere ? digest.trials.filter((trial) => trial.stretch === stretch) : [];
  return {
    digest,
    said: judge([...history, digest], kit.plan),
    step: digest.in_force,
    isBreak: last("bout_start", "bout_end") === "bout_end",
    isAway: last("off_task_start", "off_task_end") === "off_task_start",
    met: here.filter(({ met }) => met).length,
    tried: here.length,
    pieces: events
      .filter(({ kind }) => kind === "reward")
      .reduce((sum, event) => sum + Number(event.pieces ?? 1), 0),
  };
}

const isBefore = (one: Digest, other: Digest) =>
  `${one.date ?? ""} ${one.time ?? ""}` <= `${other.date ?? ""} ${other.time ?? ""}`;

export type LiveWord = "stop" | "lower" | "rest" | "raise" | "stands" | "go_on";

/** What tires or strains: less of it, now. */
const TIRING = ["ease_first", "rising_pause", "more_signs", "dry_spell"];

/** The one word: the animal's ease first, then the limits, then the school. */
export function wordOf(state: LedState, caps: { seconds: number; reps: number | null }): LiveWord {
  const { decision, why, beside } = state.said;
  const isOver =
    60 * state.digest.minutes >= caps.seconds ||
    (caps.reps !== null && state.digest.attempts >= caps.reps);
  if (decision === "end" || isOver) return "stop";
  // A step that is missing is put into the plan later; one that is too hard is left now.
  const isStuck = why === "plateau" || why === "failed_above";
  if (decision === "lower" || (decision === "split" && !isStuck)) return "lower";
  if ([why, ...beside].some((code) => TIRING.includes(code))) return "rest";
  if (decision === "proof") return "stands";
  return decision === "raise" || decision === "fade" ? "raise" : "go_on";
}
