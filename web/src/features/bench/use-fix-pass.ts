/** The fix pass: from uncertain mark to uncertain mark, and to places where one is missing. */

import { useCallback, useMemo, useState } from "react";

import type { Findings } from "../../api/findings";
import { markInWords, type PlanBody, type StoredEvent } from "../../domain/marks";
import type { Timeline } from "../../domain/timeline";
import type { Marking } from "./use-marking";
import { t } from "../../words";

/** Where to look for what is missing before anything of this session is known, seconds. */
const USUAL_MARKER_S = 0.3;
const USUAL_REWARD_S = 1.5;

/** Something to settle: a mark that stands roughly, or a place where one is missing. */
interface Task {
  key: string;
  /** Where to look, seconds of the session. */
  atS: number;
  words: string;
  /** The mark to set on its frame; none: one of this kind is to be placed. */
  mark: StoredEvent | null;
  kind: "onset" | "reward" | null;
}

/** A mark as sure as its frame needs no second look; a tap or an import without a frame does. */
export function isUncertain(event: StoredEvent): boolean {
  if (event.frame !== undefined || event["source"] === "audio") return false;
  return (event.width ?? 0) > 0;
}

export interface FixPass {
  left: number;
  isOn: boolean;
  /** What is looked for, in words. */
  words: string;
  start: () => void;
  stop: () => void;
  /** It is this frame; on to the next. */
  settle: (frame: number) => void;
  /** There is nothing to settle here. */
  skip: () => void;
}

export function useFixPass(marking: Marking): FixPass {
  const { events, findings, log, timeline, goToUs, onFrame, put, letGo, plan } = marking;
  const [key, setKey] = useState<string | null>(null);
  const [skipped, setSkipped] = useState<ReadonlySet<string>>(new Set());
  const tasks = useMemo(
    () =>
      [
        ...uncertain(events, timeline, plan),
        ...(findings ? missing(findings, events, timeline) : []),
      ].filter((task) => !skipped.has(task.key)),
    [events, findings, skipped, timeline, plan],
  );
  const task = tasks.find((t) => t.key === key);

  const look = useCallback(
    (next: Task | undefined) => {
      setKey(next?.key ?? null);
      letGo();
      if (next) goToUs(Math.max(0, Math.round(next.atS * 1e6)));
    },
    [goToUs, letGo],
  );
  const nextAfter = (one: Task) => tasks[tasks.indexOf(one) + 1] ?? tasks.find((t) => t !== one);
  return {
    left: tasks.length,
    isOn: task !== undefined,
    words: task?.words ?? "",
    start: () => {
      setSkipped(new Set());
      look(tasks[0]);
    },
    stop: () => look(undefined),
    settle: (frame) => {
      if (!task) return;
      const next = nextAfter(task);
      // A marker whose rep has just begun is no task any more, though it is measured later.
      setSkipped((all) => new Set(all).add(task.key));
      if (task.mark) log.apply([{ op: "put", event: onFrame(task.mark, frame) }]);
      else if (task.kind) put(task.kind, frame);
      look(next);
    },
    skip: () => {
      if (!task) return;
      const next = nextAfter(task);
      setSkipped((all) => new Set(all).add(task.key));
      look(next);
    },
  };
}

function uncertain(events: StoredEvent[], timeline: Timeline, plan: PlanBody): Task[] {
  return events.filter(isUncertain).map((mark) => ({
    key: mark.id,
    atS: timeline.bestS(mark),
    words: markInWords(mark, plan),
    mark,
    kind: null,
  }));
}

/** Markers that mark nothing yet, then marked reps without a reward. */
function missing(findings: Findings, events: StoredEvent[], timeline: Timeline): Task[] {
  const markerS = findings.marker_latency_s.median ?? USUAL_MARKER_S;
  const rewardS = findings.reward_latency_s.median ?? USUAL_REWARD_S;
  // Where nothing says that a rep went on, a further marker may be for a behaviour nobody coded.
  const open = findings.reps.filter((rep) => rep.offset_id === null && rep.stay === null);
  const further = open.flatMap((rep) => rep.further_ids);
  const unclear = new Set([...findings.loose.orphan_markers, ...further]);
  const unpaid = new Set(findings.loose.unrewarded_markers);
  const markers = events.filter((e) => e.kind === "marker" && e.marker === "event");
  return [
    ...markers
      .filter((marker) => unclear.has(marker.id))
      .map((marker): Task => ({
        key: `onset ${marker.id}`,
        atS: timeline.bestS(marker) - markerS,
        words: t("bench:use_fix_pass.the_behaviour_this_marker_is"),
        mark: null,
        kind: "onset",
      })),
    ...markers
      .filter((marker) => unpaid.has(marker.id) && !unclear.has(marker.id))
      .map((marker): Task => ({
        key: `reward ${marker.id}`,
        atS: timeline.bestS(marker) + rewardS,
        words: t("bench:use_fix_pass.the_reward"),
        mark: null,
        kind: "reward",
      })),
  ];
}
