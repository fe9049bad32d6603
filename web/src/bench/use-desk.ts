/** What the reviewer does at the bench: placing, moving, judging and removing marks. */

import { useCallback, useMemo, useState, useSyncExternalStore } from "react";

import type { Findings, Rep } from "../api/findings";
import { useFindings } from "../api/queries";
import { titleOfStep } from "../ui/words";
import type { EditLog } from "./edit-log";
import type { FrameTimes } from "./frame-times";
import { freshId, KINDS, type MarkKind, type PlanBody, type StoredEvent } from "./marks";
import type { Stage } from "./use-stage";

/**
 * What pointing at a frame does: go there, place a mark, or move the one that is chosen.
 * While a mark is being named, it goes there too, and the mark stays on its own frame.
 */
export type Pointing =
  | { does: "go" }
  | { does: "place"; kind: MarkKind }
  | { does: "move"; id: string }
  | { does: "name"; kind: MarkKind; frame: number };

/** Marks that make no rep of their own and stand in none. */
const BESIDE = ["cue", "other_behaviour", "sign", "criterion", "prompt", "note", "reach"];

/** A mark this long before an onset belongs to it, seconds. */
const ANTICIPATION_S = 0.5;

export function useDesk(
  log: EditLog,
  sessionId: string,
  sessionPlan: PlanBody,
  times: FrameTimes,
  stage: Stage,
) {
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

  const put = useCallback(
    (kind: string, on: number, fields: Record<string, unknown> = {}) => {
      const there = events.find((e) => e.kind === kind && e.frame === on);
      const mark: StoredEvent = {
        ...(there ?? { id: freshId(), kind, frame: on, pts: times.pts(on) }),
        ...fields,
      };
      if (!there || Object.entries(fields).some(([key, value]) => there[key] !== value)) {
        log.apply([{ op: "put", event: mark }]);
      }
      setChosen(mark.id);
      setPointing({ does: "go" });
    },
    [events, log, times],
  );

  const place = useCallback(
    (kind: MarkKind, at?: number) => {
      const asks = KINDS.find((k) => k.kind === kind)?.asks;
      const begin = (on: number) => {
        if (asks) {
          setChosen(null);
          setPointing({ does: "name", kind, frame: on });
        } else put(kind, on, kind === "marker" ? { marker: "event" } : {});
      };
      if (at === undefined) stage.whenShown(begin);
      else begin(at);
    },
    [put, stage],
  );

  const plan: PlanBody = (state.folded.facts["plan"] as PlanBody | null) ?? sessionPlan;
  const setPlan = useCallback(
    (next: PlanBody) => log.apply([{ op: "facts", set: { plan: next } }]),
    [log],
  );

  const titleOf = useCallback((key: string | null) => titleOfStep(plan, key), [plan]);

  /** From the frame on the stage on, this step is in force. */
  const startStep = useCallback(
    (key: string) => stage.whenShown((on) => put("criterion", on, { approximation: key })),
    [put, stage],
  );
  const stepInForce = useMemo(() => {
    const begun = events
      .filter((e) => e.kind === "criterion" && timeOf(e) <= here)
      .sort((a, b) => timeOf(a) - timeOf(b));
    return begun.at(-1)?.approximation ?? null;
  }, [events, timeOf, here]);

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

  /** Marks that stand in no rep, from the current onset up to the next one. */
  const beside = useMemo(() => {
    const from = current ? timeOf(current) : -Infinity;
    const next = onsets[current ? onsets.indexOf(current) + 1 : 0];
    const to = next ? timeOf(next) : Infinity;
    return events
      .filter((e) => BESIDE.includes(e.kind) && timeOf(e) >= from && timeOf(e) < to)
      .sort((a, b) => timeOf(a) - timeOf(b));
  }, [current, events, onsets, timeOf]);

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
    plan,
    setPlan,
    titleOf,
    startStep,
    stepInForce,
    beside,
    put,
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
