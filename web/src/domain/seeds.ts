/** Taps of the yard as seeds: where each is looked for on the film, and what its frame moves along. */

import type { EditBody, StoredEvent } from "./marks";
import { isOnPhoneClock, TAP_WIDTH_S, type TapsOn } from "./taps-on-film";
import type { Timeline } from "./timeline";
import { round6 } from "./times";

/** Instants nearer to one another than this differ by their rounding alone, seconds. */
const ROUNDED_S = 1e-5;
/** A reward comes within so long after its rep, or it is looked for where it was tapped, seconds. */
const PAID_WITHIN_S = 6;

/** What holds until it is changed: to the frame, its turn says nothing more than its tap. */
const STATES = new Set(["criterion", "bout_start", "bout_end"]);
/** What begins to hold, before a rep; what ends or turns, after it. */
const BEFORE = new Set(["criterion", "bout_start", "off_task_end"]);
const IN_REPS = new Set(["onset", "reward", "sign"]);

/** Whether a mark's frame is worth looking for. */
export const isSeed = (event: StoredEvent): boolean =>
  isOnPhoneClock(event) && !STATES.has(event.kind);

export interface Usual {
  /** From a behaviour's first frame to its marker, and from there to the reward, seconds. */
  markerS: number;
  rewardS: number;
}

/** Where a seed is looked for, seconds of the session: by its marker where one is marked. */
export function lookFor(
  seed: StoredEvent,
  events: StoredEvent[],
  timeline: Timeline,
  usual: Usual,
): number {
  const at = timeline.bestS(seed);
  const marker = nearest(
    events.filter((e) => e.kind === "marker" && e.marker === "event"),
    at,
    timeline,
  );
  if (seed.kind === "onset") return marker === undefined ? at : marker - usual.markerS;
  if (seed.kind !== "reward") return at;
  if (marker !== undefined) return marker + usual.rewardS;
  const rep = events.findLast((e) => e.kind === "onset" && timeline.bestS(e) <= at + TAP_WIDTH_S);
  const began = rep && timeline.bestS(rep);
  const isPaid = began !== undefined && at - began <= PAID_WITHIN_S;
  return isPaid ? began + usual.markerS + usual.rewardS : at;
}

function nearest(events: StoredEvent[], at: number, timeline: Timeline): number | undefined {
  return events
    .map((e) => timeline.bestS(e))
    .filter((s) => Math.abs(s - at) <= TAP_WIDTH_S)
    .sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0];
}

/** The tap a mark placed here is of: the nearest of its kind. Only once a shared instant is known. */
export function seedNear(
  kind: string,
  at: number,
  events: StoredEvent[],
  timeline: Timeline,
  on: TapsOn | null,
): StoredEvent | undefined {
  if (on === null || on.moved_s === null) return undefined;
  const off = (event: StoredEvent) => Math.abs(timeline.bestS(event) - at);
  return events
    .filter((e) => isSeed(e) && e.kind === kind && off(e) <= TAP_WIDTH_S)
    .sort((a, b) => off(a) - off(b))[0];
}

/** The edit that moves all taps along, so that this one lies at an instant of the session. */
export function movedAlong(
  seed: StoredEvent,
  bestS: number,
  timeline: Timeline,
  on: TapsOn,
): EditBody {
  const moved_s = round6((on.moved_s ?? 0) + bestS - timeline.bestS(seed));
  return { op: "facts", set: { taps_on: { ...on, moved_s } } };
}

/**
 * The states that have to go along when a tap gets its place, so that what was tapped first still
 * comes first: a step in force before its rep, a break after it. `put` gives one its new place, on
 * that of the tap or right after it. Where all taps move along (`isShared`) only those of the same
 * instant do, whose place would else be the same but for rounding.
 */
export function inOrderWith(
  seed: StoredEvent,
  bestS: number,
  events: StoredEvent[],
  timeline: Timeline,
  put: (state: StoredEvent, isAfter: boolean) => StoredEvent,
  isShared = false,
): EditBody[] {
  const states = events.filter(
    (e) => isOnPhoneClock(e) && !IN_REPS.has(e.kind) && e.id !== seed.id,
  );
  return states.flatMap((state): EditBody[] => {
    const off = timeline.bestS(state) - bestS;
    const came = (state.t ?? 0) - (seed.t ?? 0);
    const isTied = came === 0 && BEFORE.has(state.kind);
    const isAfter = came >= 0 && !isTied;
    const isOut = isTied
      ? off > -ROUNDED_S || isShared
      : !isShared && (isAfter ? off < 0 : off > 0);
    return isOut ? [{ op: "put", event: put(state, isAfter) }] : [];
  });
}
