/**
 * Sessions this phone leads. Each is kept here under its own id until the server has it whole: who is
 * trained, when it began, and by what it is judged. Its taps are edits (`edit-log`).
 */

import { api, faultsOf } from "../api/client";
import { EditLog } from "./edit-log";
import type { Folded, StoredEvent } from "./marks";
import type { YardKit } from "./yard-kits";

export interface LedSession {
  id: string;
  /** Whose it is: another one who logs in on this phone does not send it. */
  user: string;
  kit: YardKit;
  /** ISO 8601 with the phone's distance from UTC. */
  began_at: string;
  /** The step it begins with. */
  first_step: string;
  /** The line of the script that is next. */
  line: number;
  is_ended: boolean;
  /** The server knows it. */
  is_known: boolean;
  /** Why the server would not have it. */
  fault: string | null;
}

const PREFIX = "frequens.led.";
const CHANGED = "frequens.led-changed";

/** All that are still kept here, the newest first. */
export function ledSessions(): LedSession[] {
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(PREFIX))
    .flatMap((key) => readLed(key.slice(PREFIX.length)) ?? [])
    .sort((a, b) => Date.parse(b.began_at) - Date.parse(a.began_at));
}

export function readLed(id: string): LedSession | null {
  try {
    return JSON.parse(localStorage.getItem(PREFIX + id) ?? "null") as LedSession | null;
  } catch {
    return null;
  }
}

export function keepLed(session: LedSession): LedSession {
  localStorage.setItem(PREFIX + session.id, JSON.stringify(session));
  window.dispatchEvent(new Event(CHANGED));
  return session;
}

const MARKS = "frequens.led-marks.";

/** The marks as they stand, for a page that is opened again without a network. */
export function keepMarks(id: string, { events, facts }: Folded): void {
  // What the server has whole was forgotten here, and stays so.
  if (readLed(id) === null) return;
  localStorage.setItem(MARKS + id, JSON.stringify({ events: [...events.values()], facts }));
}

/** The marks that were kept; none where there are none. */
export function readMarks(id: string): Folded {
  try {
    const kept = JSON.parse(localStorage.getItem(MARKS + id) ?? "null") as KeptMarks | null;
    const events = new Map(kept?.events.map((event) => [event.id, event]));
    return { events, facts: kept?.facts ?? {} };
  } catch {
    return { events: new Map(), facts: {} };
  }
}

interface KeptMarks {
  events: StoredEvent[];
  facts: Folded["facts"];
}

/** Forget one the server would not have, with all its taps. */
export function throwAwayLed(id: string): void {
  for (const key of Object.keys(localStorage)) {
    if (key.startsWith(`frequens.edit.${id}.`)) localStorage.removeItem(key);
  }
  forgetLed(id);
}

/** The server has it: nothing of it need stay here. */
export function forgetLed(id: string): void {
  localStorage.removeItem(PREFIX + id);
  localStorage.removeItem(MARKS + id);
  window.dispatchEvent(new Event(CHANGED));
}

/** Told whenever what is kept here has changed. */
export function listenLed(listener: () => void): () => void {
  window.addEventListener(CHANGED, listener);
  return () => window.removeEventListener(CHANGED, listener);
}

/** A new session of a behaviour, beginning now. */
export function beginLed(kit: YardKit, user: string, first_step: string): LedSession {
  return keepLed({
    id: crypto.randomUUID(),
    user,
    kit,
    began_at: onTheWall(new Date()),
    first_step,
    line: 0,
    is_ended: false,
    is_known: false,
    fault: null,
  });
}

/** An instant with this clock's distance from UTC. */
export function onTheWall(now: Date): string {
  const minutes = -now.getTimezoneOffset();
  const two = (value: number) => String(Math.trunc(Math.abs(value))).padStart(2, "0");
  const wall = new Date(now.getTime() + minutes * 60_000).toISOString().slice(0, -1);
  return `${wall}${minutes < 0 ? "-" : "+"}${two(minutes / 60)}:${two(minutes % 60)}`;
}

/** Let the server know of a session, under its own id; true once it does. */
export async function announceLed(session: LedSession): Promise<boolean> {
  if (session.is_known) return true;
  const answer = await api
    .PUT("/api/yard/sessions/{session_id}", {
      params: { path: { session_id: session.id } },
      body: { behaviour_id: session.kit.behaviour_id, began_at: session.began_at },
    })
    .catch(() => null);
  // It may have gone on meanwhile.
  const now = readLed(session.id) ?? session;
  if (answer?.data) {
    keepLed({ ...now, is_known: true, fault: null });
    return true;
  }
  const { status } = answer?.response ?? {};
  if (status === 404 || status === 409 || status === 422) {
    const fault = faultsOf(answer?.error, status)[0] ?? "";
    if (fault !== now.fault) keepLed({ ...now, fault });
  }
  return false;
}

/**
 * Send what is kept of a session that has ended; forgotten here once the server has all of it.
 * Resolves to whether it has.
 */
export async function sendLed(session: LedSession): Promise<boolean> {
  if (!(await announceLed(session))) return false;
  const log = new EditLog(session.id, () => undefined);
  const stop = log.start();
  const isSent = await new Promise<boolean>((resolve) => {
    const look = () => {
      const { saving, waiting } = log.snapshot();
      if (saving === "saved" && waiting === 0) resolve(true);
      else if (saving !== "loading" && saving !== "saving" && saving !== "saved") resolve(false);
    };
    log.subscribe(look);
    look();
  });
  stop();
  if (isSent && session.is_ended) forgetLed(session.id);
  return isSent;
}
