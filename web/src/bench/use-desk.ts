/** What the reviewer does at the bench: placing, moving, judging and removing marks. */

import { useCallback, useMemo, useState, useSyncExternalStore } from "react";

import type { Findings, Rep } from "../api/findings";
import { useFindings } from "../api/queries";
import type { EditLog } from "./edit-log";
import type { FrameTimes } from "./frame-times";
import { freshId, type MarkKind, type StoredEvent } from "./marks";
import type { Stage } from "./use-stage";

/** What pointing at a frame does: go there, place a mark, or move the one that is chosen. */
export type Pointing =
  { does: "go" } | { does: "place"; kind: MarkKind } | { does: "move"; id: string };

/** A mark of another kind than the bench codes stays where it is. */
const ANTICIPATION_S = 0.5;

export function useDesk(log: EditLog, sessionId: string, times: FrameTimes, stage: Stage) {
  const state = useSyncExternalStore(log.subscribe, log.snapshot);
  const findings: Findings | null = useFindings(sessionId, state.seq).data?.findings ?? null;
  const [chosen, setChosen] = useState<string | null>(null);
  const [pointing, setPointing] = useState<Pointing>({ does: "go" });

  const events = useMemo(() => [...state.folded.events.values()], [state.folded]);
  const frameOf = useCallback(
    (event: StoredEvent) => event.frame ?? times.atUs(Math.round((event.t ?? 0) * 1e6)),
    [times],
  );
  /** Best estimate of a mark's instant, seconds. */
  const timeOf = useCallback(
    (event: StoredEvent) =>
      event.frame === undefined
        ? (event.t ?? 0) - (event.width ?? 0) / 2
        : times.bestS(event.frame),
    [times],
  );
  /** A mark's own time on the recording, microseconds: that of its frame. */
  const clockOf = useCallback(
    (event: StoredEvent) =>
      event.frame === undefined ? Math.round((event.t ?? 0) * 1e6) : times.us(event.frame),
    [times],
  );
  const onsets = useMemo(
    () => events.filter((e) => e.kind === "onset").sort((a, b) => timeOf(a) - timeOf(b)),
    [events, timeOf],
  );

  const frame = stage.shown ?? stage.wanted;
  const here = times.bestS(frame);
  const current = useMemo(() => currentOnset(onsets, timeOf, here), [onsets, timeOf, here]);

  const place = useCallback(
    (kind: MarkKind, at?: number) => {
      const put = (on: number) => {
        const there = events.find((e) => e.kind === kind && e.frame === on);
        const mark: StoredEvent = there ?? {
          id: freshId(),
          kind,
          frame: on,
          pts: times.pts(on),
          ...(kind === "marker" ? { marker: "event" } : {}),
        };
        if (!there) log.apply([{ op: "put", event: mark }]);
        setChosen(mark.id);
        setPointing({ does: "go" });
      };
      if (at === undefined) stage.whenShown(put);
      else put(at);
    },
    [events, log, stage, times],
  );

  const move = useCallback(
    (id: string, to: number) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      const frame = times.clamp(to);
      const moved: StoredEvent = { ...event, frame, pts: times.pts(frame) };
      delete moved.t;
      delete moved.width;
      delete moved["source"];
      log.apply([{ op: "put", event: moved }]);
      stage.goTo(frame);
    },
    [log, stage, state.folded, times],
  );

  const choose = useCallback(
    (id: string) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      setChosen(id);
      setPointing({ does: "move", id });
      stage.goTo(frameOf(event));
    },
    [frameOf, stage, state.folded],
  );

  const nudge = useCallback(
    (by: number) => {
      const event = chosen === null ? undefined : state.folded.events.get(chosen);
      if (event) move(event.id, frameOf(event) + by);
    },
    [chosen, frameOf, move, state.folded],
  );

  const remove = useCallback(() => {
    if (chosen === null || !state.folded.events.has(chosen)) return;
    log.apply([{ op: "drop", id: chosen }]);
    setChosen(null);
    setPointing({ does: "go" });
  }, [chosen, log, state.folded]);

  /** Not judged, fits, not yet, and round again. */
  const judge = useCallback(() => {
    if (!current) return;
    const next = current.met === true ? false : current.met === false ? null : true;
    log.apply([{ op: "put", event: { ...current, met: next } }]);
  }, [current, log]);

  const toRep = useCallback(
    (by: number) => {
      const place = current ? onsets.indexOf(current) : -1;
      const next = onsets[Math.min(onsets.length - 1, Math.max(0, place + by))];
      if (!next) return;
      setChosen(null);
      setPointing({ does: "go" });
      stage.goTo(frameOf(next));
    },
    [current, frameOf, onsets, stage],
  );

  const point = useCallback(
    (frame: number) => {
      if (pointing.does === "place") {
        stage.goTo(frame);
        place(pointing.kind, frame);
      } else if (pointing.does === "move") move(pointing.id, frame);
      else stage.goTo(frame);
    },
    [move, place, pointing, stage],
  );

  const rep: Rep | null = findings?.reps.find((r) => r.id === current?.id) ?? null;
  return {
    state,
    events,
    findings,
    current,
    currentNumber: current ? onsets.indexOf(current) + 1 : 0,
    rep,
    chosen,
    setChosen,
    pointing,
    setPointing,
    frameOf,
    timeOf,
    clockOf,
    here,
    frame,
    place,
    choose,
    nudge,
    remove,
    judge,
    toRep,
    point,
  };
}

export type Desk = ReturnType<typeof useDesk>;

/** The rep an instant belongs to: the last one begun, or one that begins within half a second. */
function currentOnset(
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
