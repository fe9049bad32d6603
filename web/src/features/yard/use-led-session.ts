import { useCallback, useEffect, useMemo, useState, useSyncExternalStore } from "react";

import { EditLog, type LogState } from "../../domain/edit-log";
import {
  announceLed,
  keepLed,
  keepMarks,
  readLed,
  readMarks,
  type LedSession,
} from "../../domain/led-sessions";
import { begins, clockOf } from "../../domain/led-taps";
import type { EditBody, Folded } from "../../domain/marks";

/** How often the server is looked for while it does not know of the session, milliseconds. */
const LOOK_MS = 10_000;

export interface Led {
  session: LedSession;
  log: LogState;
  tap: (bodies: EditBody[], changed?: Partial<LedSession>) => void;
  takeBack: () => void;
}

/** A session this phone leads: its taps are kept here first, and sent when there is a network. */
export function useLedSession(known: LedSession): Led {
  const [session, setSession] = useState(known);
  const log = useMemo(() => new EditLog(known.id, () => undefined), [known.id]);
  const state = useSyncExternalStore(log.subscribe, log.snapshot);
  const [before] = useState(() => readMarks(known.id));
  // Until the server has been heard, what was sent before this page was opened is only here.
  const folded = useMemo(
    () => (state.seq > 0 ? state.folded : over(before, state.folded)),
    [before, state],
  );
  useEffect(() => keepMarks(known.id, folded), [known.id, folded]);

  useEffect(() => {
    const isNew = readMarks(known.id).events.size === 0 && !known.is_known;
    if (isNew && log.snapshot().folded.events.size === 0) {
      log.apply(begins(clockOf(known, Date.parse(known.began_at)), known.first_step));
    }
    let stop: (() => void) | null = null;
    let isOver = false;
    let timer = 0;
    const look = async () => {
      window.clearTimeout(timer);
      const isKnown = await announceLed(readLed(known.id) ?? known);
      if (isOver || stop) return;
      const now = readLed(known.id);
      if (now) setSession(now);
      if (isKnown) stop = log.start();
      else timer = window.setTimeout(() => void look(), LOOK_MS);
    };
    const again = () => void look();
    window.addEventListener("online", again);
    again();
    return () => {
      isOver = true;
      window.clearTimeout(timer);
      window.removeEventListener("online", again);
      stop?.();
    };
  }, [known, log]);

  const tap = useCallback(
    (bodies: EditBody[], changed?: Partial<LedSession>) => {
      log.apply(bodies);
      if (changed) setSession((now) => keepLed({ ...now, ...changed }));
    },
    [log],
  );
  return { session, log: { ...state, folded }, tap, takeBack: () => log.undo() };
}

/** Later marks and facts over earlier ones. */
function over(before: Folded, later: Folded): Folded {
  return {
    events: new Map([...before.events, ...later.events]),
    facts: { ...before.facts, ...later.facts },
  };
}
