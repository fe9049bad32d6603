/** What is said beside the sentence, from the numbers alone. */

import type { Findings } from "../api/findings";
import { counted, latency } from "./times";

/** What the numbers beside the sentence say for themselves. */
export function asideOf(f: Findings, titleOf: (key: string | null) => string): string {
  if (f.counts.attempts === 0) {
    return "Mark where the behaviour begins, your marker and the reward; the numbers appear here.";
  }
  const now = f.in_force;
  const middle = now?.timing_error_s.median ?? null;
  if (!now || middle === null) {
    return f.marker_latency_s.n > 0
      ? "At the step worked last no marker is placed yet."
      : "Once a marker is placed, its distance from the behaviour is measured here.";
  }
  const at = now.approximation === null ? "" : `At “${titleOf(now.approximation)}” your`;
  const size = latency(Math.abs(middle), 2).slice(1);
  const side = middle < 0 ? "before" : "after";
  return `${at || "Your"} marker fell ${size} ${side} ${INSTANTS[now.mark_at ?? "onset"](now.hold_s)}, in the middle of ${counted(now.timing_error_s.n, "marked rep")}. ${surenessOf(f)}`;
}

/** The instant the plan wants a marker at, in words. */
const INSTANTS = {
  onset: () => "the behaviour began",
  hold: (hold_s: number | null) => `it was held for ${hold_s ?? 0} s`,
  offset: () => "the behaviour ended",
};

function surenessOf(f: Findings): string {
  const said: string[] = [];
  const { median_low: low, median_high: high, n } = (f.in_force ?? f).timing_error_s;
  said.push(
    low !== null && high !== null
      ? `With ${n} reps the true middle could lie anywhere from ${latency(low, 2)} to ${latency(high, 2)}.`
      : `${counted(n, "marked rep")} ${n === 1 ? "is" : "are"} too few to say how far the true middle could lie.`,
  );
  const unpaid = f.counts.unrewarded_markers;
  if (unpaid > 0) {
    said.push(
      `${counted(unpaid, "marker")} brought no reward: a promise not kept, or a reward not yet coded.`,
    );
  }
  if (f.counts.orphan_markers > 0) {
    said.push(
      `${counted(f.counts.orphan_markers, "marker")} fell on nothing that is coded as a rep.`,
    );
  }
  return said.join(" ");
}
