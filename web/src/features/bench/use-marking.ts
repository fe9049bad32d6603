/** What the reviewer does at the bench: placing, moving, judging and removing marks. */

import type { Lag } from "../../domain/reaction";
import { useCallback, useMemo, useState, useSyncExternalStore } from "react";

import type { Findings, Rep } from "../../api/findings";
import { useFindings } from "../../api/queries";
import { useNotice } from "../../components/notice";
import { titleOfStep } from "../../domain/words";
import type { EditLog } from "../../domain/edit-log";
import { currentOnset, nextPart, openTouch, stepAt } from "../../domain/at-once";
import { eventOf, freshId, KINDS, type EditBody, type MarkKind } from "../../domain/marks";
import type { PlanBody, StoredEvent } from "../../domain/marks";
import type { Clip, Timeline } from "../../domain/timeline";
import { useHeldConditions, type HeldConditions } from "./use-held-conditions";
import type { Playback } from "./use-playback";

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
const IN_REPS = new Set(["onset", "offset", "marker", "reward"]);
/** A tap is surer than this only in one's dreams, seconds. */
const LEAST_SD_S = 0.02;

interface MarkingParts {
  log: EditLog;
  sessionId: string;
  sessionPlan: PlanBody;
  plannedConditions: { name: string; levels?: string[] }[];
  timeline: Timeline;
  clip: Clip;
  playback: Playback;
  lag: Lag;
  /** Go to a time of the session, microseconds, in whichever clip it lies. */
  goToUs: (us: number) => void;
}

export function useMarking(parts: MarkingParts) {
  const { log, sessionId, sessionPlan, timeline, clip, playback, lag, goToUs } = parts;
  const state = useSyncExternalStore(log.subscribe, log.snapshot);
  const findings: Findings | null = useFindings(sessionId, state.seq).data?.findings ?? null;
  const [chosen, setChosen] = useState<string | null>(null);
  const [pointing, setPointing] = useState<Pointing>({ does: "go" });
  const { times } = clip;

  const events = useMemo(
    () => [...state.folded.events.values()].sort((a, b) => timeline.bestS(a) - timeline.bestS(b)),
    [state.folded, timeline],
  );
  const onsets = useMemo(() => events.filter((e) => e.kind === "onset"), [events]);
  const timeOf = useCallback((event: StoredEvent) => timeline.bestS(event), [timeline]);

  const plan: PlanBody = (state.folded.facts["plan"] as PlanBody | null) ?? sessionPlan;
  const held = useHeldConditions(sessionId, plan, parts.plannedConditions, events);
  const frame = playback.shown ?? playback.wanted;
  const here = clip.startUs / 1e6 + times.bestS(frame);
  const current = useMemo(() => currentOnset(onsets, timeOf, here), [onsets, timeOf, here]);

  /** The place of a mark on this clip's frame. */
  const placeOn = useCallback(
    (on: number) => ({
      frame: on,
      pts: times.pts(on),
      ...(clip.startUs > 0 ? { clip: clip.film.id } : {}),
    }),
    [clip, times],
  );
  const before = useCallback((s: number) => events.filter((e) => timeOf(e) <= s), [events, timeOf]);
  const tell = useNotice();

  /** What a part placed here says: the chain's next one. Null, and why, where there is none. */
  const partAt = useCallback(
    (s: number): { part: string } | null => {
      const seen = before(s);
      const onset = seen.findLastIndex((e) => e.kind === "onset");
      const began = seen[onset];
      const key = began && (began.approximation ?? stepAt(seen, timeOf, timeOf(began)));
      const step = plan.approximations?.find((one) => one.key === key);
      const next = began ? nextPart(step, seen.slice(onset + 1)) : null;
      if (next !== null) return { part: next };
      tell(
        !began
          ? "A part stands inside a behaviour: mark where it begins first."
          : (step?.parts ?? []).length < 2
            ? "This step has no parts. They are named in the plan."
            : "All parts of this chain are marked.",
      );
      return null;
    },
    [before, plan, tell, timeOf],
  );

  /** Put a mark on a frame, or give the one that stands there other fields. */
  const put = useCallback(
    (kind: MarkKind, on: number, fields: Record<string, unknown> = {}) => {
      const startS = clip.startUs / 1e6;
      const ended = kind === "offset" ? openTouch(before(startS + times.bestS(on))) : null;
      if (ended) {
        const endS = round6(startS + times.us(on) / 1e6);
        log.apply([{ op: "put", event: { ...ended, end_s: endS } }]);
        setChosen(ended.id);
        setPointing({ does: "go" });
        return;
      }
      const inChain = kind === "part" ? partAt(startS + times.bestS(on)) : {};
      if (inChain === null) return;
      const made = eventOf(kind, before(startS + times.bestS(on)));
      const there = events.find(
        (e) =>
          e.kind === made.kind &&
          e.frame === on &&
          timeline.clipOf(e) === clip &&
          (made.fields["marker"] === undefined || e.marker === made.fields["marker"]),
      );
      const first = there ? {} : { ...held.fieldsOf(made.kind), ...inChain };
      const mark: StoredEvent = {
        ...(there ?? { id: freshId(), kind: made.kind, ...placeOn(on), ...made.fields }),
        ...first,
        ...fields,
      };
      const bodies = there
        ? Object.entries(fields).some(([key, value]) => there[key] !== value)
          ? [{ op: "put" as const, event: mark }]
          : []
        : companions(mark, events, timeline);
      if (bodies.length > 0) log.apply(bodies);
      setChosen(mark.id);
      setPointing({ does: "go" });
    },
    [before, clip, events, log, partAt, placeOn, held, timeline, times],
  );

  /** A mark tapped while the film plays: the own lag is taken off, its spread is its width. */
  const tap = useCallback(
    (kind: MarkKind, fields: Record<string, unknown> = {}) => {
      // The hand lags in its own time: in the film's it is more or less by the playing speed.
      const width = Math.max(LEAST_SD_S, lag.sdS * playback.speed) * Math.sqrt(12);
      const at = Math.max(0, clip.startUs / 1e6 + playback.now() - lag.lagS * playback.speed);
      const ended = kind === "offset" ? openTouch(before(at)) : null;
      if (ended) {
        log.apply([{ op: "put", event: { ...ended, end_s: round6(at) } }]);
        return;
      }
      const inChain = kind === "part" ? partAt(at) : {};
      if (inChain === null) return;
      const made = eventOf(kind, before(at));
      const end = timeline.durationUs / 1e6;
      const mark: StoredEvent = {
        id: freshId(),
        kind: made.kind,
        t: round6(Math.min(end, at + width / 2)),
        width: round6(width),
        source: "tap",
        ...made.fields,
        ...held.fieldsOf(made.kind),
        ...inChain,
        ...saidOf(kind, events),
        ...fields,
      };
      log.apply(companions(mark, events, timeline));
    },
    [before, clip.startUs, events, lag, log, partAt, playback, held, timeline],
  );

  const place = useCallback(
    (kind: MarkKind, at?: number) => {
      if (playback.playing) {
        tap(kind);
        return;
      }
      const asks = KINDS.find((k) => k.kind === kind)?.asks;
      const begin = (on: number) => {
        if (asks) {
          setChosen(null);
          setPointing({ does: "name", kind, frame: on });
        } else put(kind, on);
      };
      if (at === undefined) playback.whenShown(begin);
      else begin(at);
    },
    [put, playback, tap],
  );

  const setPlan = useCallback(
    (next: PlanBody) => log.apply([{ op: "facts", set: { plan: next } }]),
    [log],
  );
  const titleOf = useCallback((key: string | null) => titleOfStep(plan, key), [plan]);

  /** From the frame on the stage on, this step is in force. */
  const startStep = useCallback(
    (key: string) => {
      const fields = { approximation: key };
      if (playback.playing) tap("criterion" as MarkKind, fields);
      else playback.whenShown((on) => put("criterion" as MarkKind, on, fields));
    },
    [put, playback, tap],
  );
  const stepInForce = useMemo(() => stepAt(events, timeOf, here), [events, timeOf, here]);

  /** Put a mark on a frame of this clip; it is a picture's mark from then on. */
  const onFrame = useCallback(
    (event: StoredEvent, on: number): StoredEvent => {
      const moved: StoredEvent = { ...event, ...placeOn(on) };
      delete moved.t;
      delete moved.width;
      delete moved["source"];
      return moved;
    },
    [placeOn],
  );
  const move = useCallback(
    (id: string, to: number) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      const frame = times.clamp(to);
      log.apply([{ op: "put", event: onFrame(event, frame) }]);
      playback.goTo(frame);
    },
    [log, onFrame, playback, state.folded, times],
  );
  /** Change what is said of a mark; undefined takes a field out. */
  const say = useCallback(
    (id: string, fields: Record<string, unknown>) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      const said = Object.entries({ ...event, ...fields }).filter(([, v]) => v !== undefined);
      log.apply([{ op: "put", event: Object.fromEntries(said) as StoredEvent }]);
    },
    [log, state.folded],
  );

  const goToMark = useCallback(
    (event: StoredEvent) => {
      const there = timeline.clipOf(event);
      if (there === clip) playback.goTo(timeline.frameOf(event));
      else if (there) goToUs(there.startUs + there.times.us(timeline.frameOf(event)));
    },
    [clip, goToUs, playback, timeline],
  );
  const choose = useCallback(
    (id: string) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      setChosen(id);
      setPointing({ does: "move", id });
      goToMark(event);
    },
    [goToMark, state.folded],
  );
  const letGo = useCallback(() => {
    setChosen(null);
    setPointing({ does: "go" });
  }, []);

  const nudge = useCallback(
    (by: number) => {
      const event = chosen === null ? undefined : state.folded.events.get(chosen);
      if (event) move(event.id, timeline.frameOf(event) + by);
    },
    [chosen, move, state.folded, timeline],
  );

  const remove = useCallback(() => {
    if (chosen === null || !state.folded.events.has(chosen)) return;
    log.apply([{ op: "drop", id: chosen }]);
    letGo();
  }, [chosen, letGo, log, state.folded]);

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
      letGo();
      goToMark(next);
    },
    [current, goToMark, letGo, onsets],
  );

  const point = useCallback(
    (frame: number) => {
      if (pointing.does === "place") {
        playback.goTo(frame);
        place(pointing.kind, frame);
      } else if (pointing.does === "move") move(pointing.id, frame);
      else playback.goTo(frame);
    },
    [move, place, pointing, playback],
  );

  /** Marks that stand in no rep, from the current onset up to the next one. */
  const beside = useMemo(() => {
    const from = current ? timeOf(current) : -Infinity;
    const next = onsets[current ? onsets.indexOf(current) + 1 : 0];
    const to = next ? timeOf(next) : Infinity;
    return events.filter((e) => {
      const stands = !IN_REPS.has(e.kind) || (e.kind === "marker" && e.marker !== "event");
      return stands && timeOf(e) >= from && timeOf(e) < to;
    });
  }, [current, events, onsets, timeOf]);

  const rep: Rep | null = findings?.reps.find((r) => r.id === current?.id) ?? null;
  return {
    log,
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
    letGo,
    timeline,
    clip,
    timeOf,
    here,
    frame,
    plan,
    setPlan,
    held,
    titleOf,
    startStep,
    stepInForce,
    beside,
    put,
    place,
    choose,
    goToMark,
    goToUs,
    onFrame,
    say,
    nudge,
    remove,
    judge,
    toRep,
    point,
  };
}

export type Marking = ReturnType<typeof useMarking>;
export type { HeldConditions };

/** The edits a new mark needs: itself, and what it means for others. */
function companions(mark: StoredEvent, events: StoredEvent[], timeline: Timeline): EditBody[] {
  const put = (event: StoredEvent): EditBody => ({ op: "put", event });
  if (mark.kind === "bout_end" && !events.some((e) => e.kind === "bout_start")) {
    // Work went on from the first frame until this first pause.
    const first = timeline.clips[0];
    const pts = first?.times.pts(0) ?? 0;
    return [put({ id: freshId(), kind: "bout_start", frame: 0, pts }), put(mark)];
  }
  if (mark.kind === "no_cue_window") {
    const at = round6(timeline.us(mark) / 1e6);
    const open = events.findLast((e) => e.kind === "no_cue_window" && timeline.us(e) / 1e6 <= at);
    // One whose end is still its beginning waits for it.
    if (open && open["end_s"] === round6(timeline.us(open) / 1e6)) {
      return [put({ ...open, end_s: at })];
    }
    return [put({ ...mark, end_s: at })];
  }
  return [put(mark)];
}

/** What a tapped mark says at first, because nobody types while the film plays. */
function saidOf(kind: MarkKind, events: StoredEvent[]): Record<string, unknown> {
  const asks = KINDS.find((k) => k.kind === kind)?.asks;
  if (!asks) return {};
  const last = events.findLast((e) => e.kind === kind);
  if (asks === "level") return { level: last?.["level"] ?? "gesture" };
  if (asks === "text") return { text: "look here again" };
  const label = last?.["label"] ?? "not named yet";
  return asks === "severity" ? { label, severity: 1 } : { label };
}

function round6(s: number): number {
  return Math.round(s * 1e6) / 1e6;
}
