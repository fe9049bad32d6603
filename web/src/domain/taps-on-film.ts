/**
 * Where what was tapped in the yard lies on the session's films: as the core lays it
 * (`core/linking/taps_on_film.py`), held against it by cases it makes itself.
 */

import type { StoredEvent } from "./marks";
import { round6 } from "./times";

/** A tap says that something happened within so long before it, seconds. */
export const TAP_WIDTH_S = 2;

/** The fact of a led session that says where its films begin on the phone's clock, seconds. */
export interface TapsOn {
  clips: Record<string, number>;
  /** How far a shared instant moved them; null while only the clocks say it. */
  moved_s: number | null;
  end_s?: number | null;
}

export interface FilmedStretch {
  start_s: number;
  tapped_from_s: number;
  length_s: number;
}

/** A tap on the session's time, seconds: it happened within `width_s` before `t_s`. */
export interface Laid {
  t_s: number;
  width_s: number;
}

/** A mark whose time is that of the phone which led the session: nobody has set it on a frame. */
export const isOnPhoneClock = (event: StoredEvent): boolean => event.clock === "phone";

export function tapsOn(facts: Record<string, unknown>): TapsOn | null {
  return (facts["taps_on"] as TapsOn | null | undefined) ?? null;
}

const OPENS: Record<string, string> = { bout_start: "bout", off_task_start: "off_task" };
const CLOSES: Record<string, string> = { bout_end: "bout", off_task_end: "off_task" };
const isOpen = (tap: StoredEvent | undefined) => tap !== undefined && tap.kind in OPENS;

const bestOf = (tap: StoredEvent) => (tap.t ?? 0) - (tap.width ?? 0) / 2;

/** Where taps lie, by their ids; those on no film are left out. Films in the order they were shot. */
export function layTaps(taps: StoredEvent[], films: FilmedStretch[]): Map<string, Laid> {
  const inOrder = [...taps].sort((a, b) => bestOf(a) - bestOf(b));
  const laid = new Map<string, Laid>();
  const held = new Map<string, StoredEvent>();
  let next = 0;
  let before: FilmedStretch | undefined;
  const takeUpTo = (isIn: (best: number) => boolean, also?: (tap: StoredEvent) => void) => {
    for (let tap = inOrder[next]; tap && isIn(bestOf(tap)); tap = inOrder[++next]) {
      const name = tap.kind === "criterion" ? "step" : (OPENS[tap.kind] ?? CLOSES[tap.kind]);
      if (name !== undefined) held.set(name, tap);
      also?.(tap);
    }
  };
  for (const film of films) {
    const was = new Map(held);
    takeUpTo((best) => best < film.tapped_from_s);
    for (const [name, tap] of held) {
      const then = was.get(name);
      if (then === tap) continue;
      const edge = edgeOf(name, tap, then, film, before);
      if (edge !== null) laid.set(tap.id, { t_s: edge, width_s: 0 });
    }
    takeUpTo(
      (best) => best <= film.tapped_from_s + film.length_s,
      (tap) => laid.set(tap.id, on(film, tap)),
    );
    before = film;
  }
  return laid;
}

/** Where a state that changed off camera and lasts is laid; nowhere where nothing has changed. */
function edgeOf(
  name: string,
  tap: StoredEvent,
  then: StoredEvent | undefined,
  film: FilmedStretch,
  before: FilmedStretch | undefined,
): number | null {
  if (name === "step" || (isOpen(tap) && !isOpen(then))) return film.start_s;
  return isOpen(then) && !isOpen(tap) && before ? before.start_s + before.length_s : null;
}

function on(film: FilmedStretch, tap: StoredEvent): Laid {
  const best = film.start_s + bestOf(tap) - film.tapped_from_s;
  const half = Math.min((tap.width ?? 0) / 2, film.start_s + film.length_s - best);
  return { t_s: round6(best + half), width_s: round6(Math.max(0, 2 * half)) };
}
