/** What stands on each row of the ladder: a rep with its marks, or a wait in which nothing was asked. */

import type { Findings, Outcome, Rep } from "../api/findings";
import type { StoredEvent } from "./marks";

export type LadderKind =
  "onset" | "offset" | "marker" | "keep_going" | "reward" | "part" | "release";

/** A mark of a row, seconds from where the row is lined up. */
export interface LadderMark {
  kind: LadderKind;
  id: string;
  s: number;
}

export interface RepRow {
  row: "rep";
  rep: Rep;
  number: number;
  marks: LadderMark[];
  /** How long it took to come back for this rep after it was sent away; null where it was not. */
  backS: number | null;
}

export interface WaitRow {
  row: "wait";
  id: string;
  startS: number;
  lengthS: number;
  /** Whether the behaviour was shown although nothing was asked. */
  wasShown: boolean;
  marks: LadderMark[];
}

export interface LadderGroup {
  approximation: string | null;
  rows: (RepRow | WaitRow)[];
}

/** All rows by time, consecutive reps of one approximation in one group. */
export function ladderGroups(
  findings: Findings,
  events: StoredEvent[],
  timeOf: (event: StoredEvent) => number,
): LadderGroup[] {
  const times = new Map(events.map((event) => [event.id, timeOf(event)]));
  const ends = releases(findings.reps, events, timeOf);
  const outcomes = findings.moments.filter((m): m is Outcome => "role" in m);
  const back = outcomes.filter((m) => m.role === "return" && m.outcome === "back");
  const backTo = new Map(back.map((m) => [tenths((times.get(m.id) ?? 0) + (m.s ?? 0)), m.s]));

  const reps = findings.reps.map((rep, place): RepRow => {
    const onset = times.get(rep.id) ?? rep.onset_s;
    const at = (kind: LadderKind, ids: (string | null)[]) =>
      ids.flatMap((id) => {
        const t = id === null ? undefined : times.get(id);
        return id === null || t === undefined ? [] : [{ kind, id, s: t - onset }];
      });
    const release = ends.get(rep.id);
    return {
      row: "rep",
      rep,
      number: place + 1,
      marks: [
        { kind: "onset", id: rep.id, s: 0 },
        ...at("offset", [rep.offset_id]),
        ...(release ? [{ kind: "release" as const, id: release.id, s: release.s }] : []),
        ...partMarks(rep, onset, events, timeOf),
        ...at(
          "keep_going",
          rep.keep_going_ids.filter((id) => id !== rep.marker_id),
        ),
        ...at("marker", [
          ...new Set([rep.marker_id, ...rep.further_ids].filter((id) => id !== null)),
        ]),
        ...at("reward", rep.reward_ids),
      ],
      backS: backTo.get(tenths(onset)) ?? null,
    };
  });
  return grouped(reps, waits(outcomes, events, times));
}

/** Instants are compared to the tenth of a millisecond: sums of seconds are not exact. */
function tenths(s: number): number {
  return Math.round(s * 1e4);
}

/** The first letting go after each onset and before the next one; events are in their order. */
function releases(
  reps: Rep[],
  events: StoredEvent[],
  timeOf: (event: StoredEvent) => number,
): Map<string, { id: string; s: number }> {
  const found = new Map<string, { id: string; s: number }>();
  const own = new Set(reps.map((rep) => rep.id));
  let onset: StoredEvent | null = null;
  for (const event of events) {
    if (own.has(event.id)) onset = event;
    else if (event.kind === "release" && onset && !found.has(onset.id)) {
      found.set(onset.id, { id: event.id, s: timeOf(event) - timeOf(onset) });
    }
  }
  return found;
}

/** The parts reached in their turn, as the core says which they are. */
function partMarks(
  rep: Rep,
  onset: number,
  events: StoredEvent[],
  timeOf: (event: StoredEvent) => number,
): LadderMark[] {
  return rep.parts.flatMap((part) => {
    // The core gives the mark's own instant; its best estimate lies half a width before.
    const gap = (e: StoredEvent) => Math.abs(timeOf(e) - part.t_s);
    const named = events.filter((e) => e.kind === "part" && e["part"] === part.key);
    const event = named.sort((a, b) => gap(a) - gap(b))[0];
    return event ? [{ kind: "part" as const, id: event.id, s: timeOf(event) - onset }] : [];
  });
}

/** Waits in which nothing was asked, with what was paid in them. */
function waits(outcomes: Outcome[], events: StoredEvent[], times: Map<string, number>): WaitRow[] {
  const windows = outcomes.filter((m) => m.role === "window");
  const paid = outcomes.filter((m) => m.role === "paid_wait");
  return windows.map((window, place) => {
    const event = events.find((e) => e.id === window.id);
    const start = times.get(window.id) ?? window.t_s;
    const next = times.get(windows[place + 1]?.id ?? "") ?? Infinity;
    const end = typeof event?.["end_s"] === "number" ? event["end_s"] : window.t_s;
    const marks = paid
      .map((m) => ({ ...m, at: times.get(m.id) ?? m.t_s }))
      .filter((m) => m.at >= start && m.at < next)
      .flatMap((m): LadderMark[] => [
        { kind: "marker", id: m.id, s: m.at - start },
        ...(m.s === null ? [] : [{ kind: "reward" as const, id: m.id, s: m.at - start + m.s }]),
      ]);
    return {
      row: "wait",
      id: window.id,
      startS: start,
      lengthS: Math.max(0, end - start),
      wasShown: window.outcome === "false_alarm",
      marks,
    };
  });
}

/** Reps in their order, each wait before the first rep that begins after it does. */
function grouped(reps: RepRow[], waiting: WaitRow[]): LadderGroup[] {
  const groups: LadderGroup[] = [];
  const left = [...waiting];
  const into = (approximation: string | null, row: RepRow | WaitRow) => {
    const last = groups.at(-1);
    if (last && last.approximation === approximation) last.rows.push(row);
    else groups.push({ approximation, rows: [row] });
  };
  for (const row of reps) {
    while (left[0] && left[0].startS < row.rep.onset_s) {
      const wait = left.shift();
      if (wait) into(groups.at(-1)?.approximation ?? row.rep.approximation, wait);
    }
    into(row.rep.approximation, row);
  }
  for (const wait of left) into(groups.at(-1)?.approximation ?? null, wait);
  return groups;
}
