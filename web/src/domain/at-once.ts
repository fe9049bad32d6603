/**
 * What the bench works out at once, also while the server does not answer: where one is, and what
 * comes next. Whatever is a measure comes from the core.
 */

import type { PlanStep, StoredEvent } from "./marks";

/** A mark this long before an onset belongs to it, seconds. */
const ANTICIPATION_S = 0.5;

/** The rep an instant belongs to: the last one begun, or one that begins within half a second. */
export function currentOnset(
  onsets: StoredEvent[],
  timeOf: (event: StoredEvent) => number,
  here: number,
): StoredEvent | null {
  let last: StoredEvent | null = null;
  for (const onset of onsets) {
    const ahead = timeOf(onset) - here;
    if (ahead <= 0) last = onset;
    else if (ahead <= ANTICIPATION_S && (!last || ahead < here - timeOf(last))) return onset;
    else break;
  }
  return last ?? null;
}

/** The step in force at an instant, seconds: the last one that began; events are in their order. */
export function stepAt(
  events: StoredEvent[],
  timeOf: (event: StoredEvent) => number,
  s: number,
): string | null {
  const last = events.findLast((e) => e.kind === "criterion" && timeOf(e) <= s);
  return last?.approximation ?? null;
}

/** Which part of the step's chain comes next in an attempt, given the marks since its onset. */
export function nextPart(step: PlanStep | undefined, since: StoredEvent[]): string | null {
  const parts = step?.parts ?? [];
  // The first part begins with the onset itself.
  let reached = 0;
  for (const event of since) {
    if (event.kind === "part" && event["part"] === parts[reached + 1]?.key) reached++;
  }
  return parts[reached + 1]?.key ?? null;
}

/** The touch that is under way: begun after the last behaviour and not ended yet. */
export function openTouch(before: StoredEvent[]): StoredEvent | null {
  const last = before.findLast((e) => e.kind === "onset" || e.kind === "exposure");
  return last?.kind === "exposure" && last["end_s"] === undefined ? last : null;
}
