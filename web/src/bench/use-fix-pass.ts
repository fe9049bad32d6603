/** The fix pass: from uncertain mark to uncertain mark, each set on its frame. */

import { useCallback, useMemo, useState } from "react";

import { markInWords, type StoredEvent } from "./marks";
import type { Desk } from "./use-desk";

/** A mark as sure as its frame needs no second look; a tap or an import without a frame does. */
export function isUncertain(event: StoredEvent): boolean {
  if (event.frame !== undefined || event["source"] === "audio") return false;
  return (event.width ?? 0) > 0;
}

export interface FixPass {
  left: number;
  isOn: boolean;
  /** What is looked at, in words. */
  words: string;
  start: () => void;
  stop: () => void;
  /** The mark looked at stands on this frame; on to the next. */
  settle: (frame: number) => void;
  skip: () => void;
}

export function useFixPass(desk: Desk): FixPass {
  const { events, log, state, goToMark, onFrame, setChosen, setPointing, titleOf } = desk;
  const [id, setId] = useState<string | null>(null);
  const uncertain = useMemo(() => events.filter(isUncertain), [events]);
  const mark = id === null ? undefined : state.folded.events.get(id);

  const look = useCallback(
    (event: StoredEvent | undefined) => {
      setId(event?.id ?? null);
      setChosen(null);
      setPointing({ does: "go" });
      if (event) goToMark(event);
    },
    [goToMark, setChosen, setPointing],
  );
  const nextAfter = (event: StoredEvent) => {
    const place = uncertain.findIndex((e) => e.id === event.id);
    return uncertain[place + 1] ?? uncertain.find((e) => e.id !== event.id);
  };
  return {
    left: uncertain.length,
    isOn: mark !== undefined,
    words: mark ? markInWords(mark, titleOf) : "",
    start: () => look(uncertain[0]),
    stop: () => look(undefined),
    settle: (frame) => {
      if (!mark) return;
      const next = nextAfter(mark);
      log.apply([{ op: "put", event: onFrame(mark, frame) }]);
      look(next);
    },
    skip: () => {
      if (mark) look(nextAfter(mark));
    },
  };
}
