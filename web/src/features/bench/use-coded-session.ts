/** The session as it is coded now, and where in it the picture stands. */

import { useCallback, useMemo, useSyncExternalStore } from "react";

import type { Findings, Rep } from "../../api/findings";
import { useFindings } from "../../api/queries";
import { currentOnset, stepAt } from "../../domain/at-once";
import type { EditLog } from "../../domain/edit-log";
import type { PlanBody, StoredEvent } from "../../domain/marks";
import type { PlanDocument } from "../../domain/plan-document";
import type { Clip, Timeline } from "../../domain/timeline";
import { titleOfStep } from "../../domain/words";
import { useHeldConditions } from "./use-held-conditions";
import type { Playback } from "./use-playback";

/** Marks that make no rep of their own and stand in none. */
const IN_REPS = new Set(["onset", "offset", "marker", "reward"]);

const NO_CONDITIONS: never[] = [];

export interface CodedSessionParts {
  log: EditLog;
  sessionId: string;
  sessionPlan: PlanBody;
  /** The shaping plan the session was filmed under. */
  planned: PlanDocument | undefined;
  timeline: Timeline;
  clip: Clip;
  playback: Playback;
}

export type CodedSession = ReturnType<typeof useCodedSession>;

export function useCodedSession(parts: CodedSessionParts) {
  const { log, sessionId, sessionPlan, timeline, clip, playback } = parts;
  const state = useSyncExternalStore(log.subscribe, log.snapshot);
  const findings: Findings | null = useFindings(sessionId, state.seq).data?.findings ?? null;

  const events = useMemo(
    () =>
      [...state.folded.events.values()]
        .filter((event) => timeline.shows(event))
        .sort((a, b) => timeline.bestS(a) - timeline.bestS(b)),
    [state.folded, timeline],
  );
  const onsets = useMemo(() => events.filter((e) => e.kind === "onset"), [events]);
  const timeOf = useCallback((event: StoredEvent) => timeline.bestS(event), [timeline]);

  const plan: PlanBody = (state.folded.facts["plan"] as PlanBody | null) ?? sessionPlan;
  const held = useHeldConditions(
    sessionId,
    plan,
    parts.planned?.conditions ?? NO_CONDITIONS,
    events,
  );
  const frame = playback.shown ?? playback.wanted;
  const here = clip.startUs / 1e6 + clip.times.bestS(frame);
  const current = useMemo(() => currentOnset(onsets, timeOf, here), [onsets, timeOf, here]);
  const stepInForce = useMemo(() => stepAt(events, timeOf, here), [events, timeOf, here]);
  const before = useCallback((s: number) => events.filter((e) => timeOf(e) <= s), [events, timeOf]);

  const setPlan = useCallback(
    (next: PlanBody) => log.apply([{ op: "facts", set: { plan: next } }]),
    [log],
  );
  const titleOf = useCallback((key: string | null) => titleOfStep(plan, key), [plan]);

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
    state,
    events,
    onsets,
    timeOf,
    findings,
    plan,
    planned: parts.planned,
    setPlan,
    titleOf,
    held,
    frame,
    here,
    before,
    current,
    currentNumber: current ? onsets.indexOf(current) + 1 : 0,
    rep,
    stepInForce,
    beside,
  };
}
