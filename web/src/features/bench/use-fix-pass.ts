/** The fix pass: from uncertain mark to uncertain mark, and to places where one is missing. */

import { useCallback, useEffect, useMemo, useRef, useState } from "react";

import type { Findings } from "../../api/findings";
import { markInWords, type PlanBody, type StoredEvent } from "../../domain/marks";
import { isSeed, lookFor, movedAlong, type Usual } from "../../domain/seeds";
import { isOnPhoneClock, tapsOn } from "../../domain/taps-on-film";
import type { Timeline } from "../../domain/timeline";
import type { Marking } from "./use-marking";
import { t } from "../../words";

/** Where to look for what is missing before anything of this session is known, seconds. */
const USUAL_MARKER_S = 0.3;
const USUAL_REWARD_S = 1.5;
/** A tap of the yard, yet to be looked at, may be the mark that is missing so near to it, seconds. */
const TAPPED_WITHIN_S = 3;

/** Something to settle: a mark that stands roughly, or a place where one is missing. */
interface Task {
  key: string;
  /** Where to look, seconds of the session. */
  atS: number;
  words: string;
  /** The mark to set on its frame; none: one of this kind is to be placed. */
  mark: StoredEvent | null;
  kind: "onset" | "marker" | "reward" | null;
  /** Its frame is the instant that film and phone share: all other taps move along. */
  isShared: boolean;
}

/** A mark as sure as its frame needs no second look; a tap or an import without a frame does. */
export function isUncertain(event: StoredEvent): boolean {
  if (isOnPhoneClock(event)) return isSeed(event);
  if (event.frame !== undefined || event["source"] === "audio") return false;
  return (event.width ?? 0) > 0;
}

export interface FixPass {
  left: number;
  isOn: boolean;
  /** What is looked for, in words. */
  words: string;
  /** This frame moves all taps of the yard along. */
  isShared: boolean;
  /** The tapped rep that is looked for: whether it fitted for the trainer, and does so now. */
  tapped: { thought: boolean; met: boolean } | null;
  start: () => void;
  stop: () => void;
  /** It is this frame; on to the next. */
  settle: (frame: number) => void;
  /** There is nothing to settle here. */
  skip: () => void;
  /** The film shows otherwise than it was tapped, and round again. */
  judge: () => void;
  /** Find the instant that film and phone share once more. */
  share: () => void;
}

export function useFixPass(marking: Marking): FixPass {
  const { events, findings, log, timeline, goToUs, onFrame, put, letGo, plan, settledOn, state } =
    marking;
  const [key, setKey] = useState<string | null>(null);
  const [skipped, setSkipped] = useState<ReadonlySet<string>>(new Set());
  const [isSharing, setSharing] = useState(false);
  const on = tapsOn(state.folded.facts);
  const tasks = useMemo(() => {
    const usual = usualOf(findings, events);
    const isAsked = on !== null && (on.moved_s === null || isSharing);
    const shared = isAsked ? sharedOf(events, timeline) : null;
    const all = [
      ...(shared ? [shared] : []),
      ...uncertain(events, timeline, plan, usual),
      ...(findings ? missing(findings, events, timeline, usual) : []),
    ];
    return all.filter((task) => !skipped.has(task.key));
  }, [events, findings, isSharing, on, skipped, timeline, plan]);
  const task = tasks.find((t) => t.key === key);

  const look = useCallback(
    (next: Task | undefined) => {
      setKey(next?.key ?? null);
      letGo();
      if (next) goToUs(Math.max(0, Math.round(next.atS * 1e6)));
    },
    [goToUs, letGo],
  );
  const going = useRef<string | null>(null);
  useEffect(() => {
    if (!task || going.current !== task.key) return;
    going.current = null;
    goToUs(Math.max(0, Math.round(task.atS * 1e6)));
  }, [goToUs, task]);
  const nextAfter = (one: Task) =>
    tasks.slice(tasks.indexOf(one) + 1).find((t) => t.mark?.id !== one.mark?.id || !t.mark) ??
    tasks.find((t) => t !== one && (t.mark?.id !== one.mark?.id || !t.mark));
  const judge = () => {
    const { mark } = task ?? {};
    if (mark?.kind === "onset") log.apply([{ op: "put", event: { ...mark, met: !mark.met } }]);
  };
  return {
    left: tasks.length,
    isOn: task !== undefined,
    words: task?.words ?? "",
    isShared: task?.isShared === true,
    tapped: task ? tappedOf(task, findings) : null,
    start: () => {
      setSkipped(new Set());
      look(tasks[0]);
    },
    stop: () => {
      setSharing(false);
      look(undefined);
    },
    settle: (frame) => {
      if (!task) return;
      const next = nextAfter(task);
      // A marker whose rep has just begun is no task any more, though it is measured later.
      setSkipped((all) => new Set(all).add(task.key));
      if (task.mark && task.isShared && on) {
        const bestS = timeline.bestS(onFrame(task.mark, frame));
        const along = movedAlong(task.mark, bestS, timeline, on);
        log.apply([along, ...settledOn(task.mark, frame, true)]);
        setSharing(false);
        setKey(next?.key ?? null);
        letGo();
        // The others lie elsewhere from now on: the next one is gone to once it is known where.
        going.current = next?.key ?? null;
        return;
      }
      if (task.mark) log.apply(settledOn(task.mark, frame));
      else if (task.kind) put(task.kind, frame);
      look(next);
    },
    skip: () => {
      if (!task) return;
      const next = task.isShared ? tasks.find((t) => t !== task) : nextAfter(task);
      setSharing(false);
      setSkipped((all) => new Set(all).add(task.key));
      look(next);
    },
    judge,
    share: () => {
      const shared = sharedOf(events, timeline);
      if (!shared) return;
      setSkipped(new Set());
      setSharing(true);
      look(shared);
    },
  };
}

/** What is usual in this session, by the marks that stand on their frames. */
function usualOf(findings: Findings | null, events: StoredEvent[]): Usual {
  const tapped = new Set(events.filter(isOnPhoneClock).map((event) => event.id));
  const reps = findings?.reps ?? [];
  const marked = reps.filter((rep) => !tapped.has(rep.id));
  const paid = reps.filter(({ reward_ids: [first] }) => first && !tapped.has(first));
  return {
    markerS: median(marked.map((rep) => rep.marker_latency_s)) ?? USUAL_MARKER_S,
    rewardS: median(paid.map((rep) => rep.reward_latency_s)) ?? USUAL_REWARD_S,
  };
}

function median(values: (number | null)[]): number | undefined {
  const known = values.filter((value) => value !== null).sort((a, b) => a - b);
  return known[Math.floor(known.length / 2)];
}

/** What the trainer thought of a tapped rep that is looked for. */
function tappedOf({ mark }: Task, findings: Findings | null): FixPass["tapped"] {
  if (mark?.kind !== "onset" || typeof mark.met !== "boolean") return null;
  const thought = findings?.reps.find((rep) => rep.id === mark.id)?.tapped_met;
  return { thought: thought ?? mark.met, met: mark.met };
}

/** The first rep that was tapped: where it begins, film and phone share an instant. */
function sharedOf(events: StoredEvent[], timeline: Timeline): Task | null {
  const reps = events.filter((e) => e.kind === "onset" && isOnPhoneClock(e));
  const mark = reps.find((e) => e.met === true) ?? reps[0];
  if (!mark) return null;
  return {
    key: "shared",
    atS: timeline.bestS(mark),
    words: t("bench:use_fix_pass.your_first_rep"),
    mark,
    kind: null,
    isShared: true,
  };
}

/** Marks that stand roughly, in the order in which they are looked for. */
function uncertain(
  events: StoredEvent[],
  timeline: Timeline,
  plan: PlanBody,
  usual: Usual,
): Task[] {
  const tasks = events.filter(isUncertain).map((mark) => ({
    key: mark.id,
    atS: isSeed(mark) ? lookFor(mark, events, timeline, usual) : timeline.bestS(mark),
    words: markInWords(mark, plan),
    mark,
    kind: null,
    isShared: false,
  }));
  return tasks.sort((a, b) => a.atS - b.atS);
}

/** Markers that mark nothing yet, then marked reps without a reward, then those nobody marked. */
function missing(
  findings: Findings,
  events: StoredEvent[],
  timeline: Timeline,
  { markerS, rewardS }: Usual,
): Task[] {
  // Where nothing says that a rep went on, a further marker may be for a behaviour nobody coded.
  const open = findings.reps.filter((rep) => rep.offset_id === null && rep.stay === null);
  const further = open.flatMap((rep) => rep.further_ids);
  const unclear = new Set([...findings.loose.orphan_markers, ...further]);
  const unpaid = new Set(findings.loose.unrewarded_markers);
  const markers = events.filter((e) => e.kind === "marker" && e.marker === "event");
  const seeds = events.filter(isSeed);
  const isTapped = (kind: string, marker: StoredEvent) =>
    seeds.some((seed) => {
      const off = timeline.bestS(seed) - timeline.bestS(marker);
      return seed.kind === kind && Math.abs(off) <= TAPPED_WITHIN_S;
    });
  // Who marks at all is asked for the marker of each rep that was tapped.
  const unmarked = findings.reps.filter((rep) => {
    const isPaid = rep.tapped_met === true && rep.met === true && rep.paid_directly;
    return isPaid && rep.marker_id === null && markers.length > 0;
  });
  const settled = new Map(events.map((e) => [e.id, e]));
  return [
    ...markers
      .filter((marker) => unclear.has(marker.id) && !isTapped("onset", marker))
      .map((marker) =>
        lacking(
          "onset",
          marker.id,
          timeline.bestS(marker) - markerS,
          t("bench:use_fix_pass.the_behaviour_this_marker_is"),
        ),
      ),
    ...markers
      .filter(
        (marker) => unpaid.has(marker.id) && !unclear.has(marker.id) && !isTapped("reward", marker),
      )
      .map((marker) =>
        lacking(
          "reward",
          marker.id,
          timeline.bestS(marker) + rewardS,
          t("bench:use_fix_pass.the_reward"),
        ),
      ),
    ...unmarked.flatMap((rep): Task[] => {
      const onset = settled.get(rep.id);
      if (!onset || isOnPhoneClock(onset)) return [];
      const atS = timeline.bestS(onset) + markerS;
      return [lacking("marker", rep.id, atS, t("bench:use_fix_pass.the_marker"))];
    }),
  ];
}

/** A place where a mark of this kind is missing, beside the mark with this id. */
function lacking(kind: NonNullable<Task["kind"]>, id: string, atS: number, words: string): Task {
  return { key: `${kind} ${id}`, atS, words, mark: null, kind, isShared: false };
}
