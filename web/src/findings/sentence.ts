/** What is said beside the sentence, from the numbers alone. */

import type { Findings } from "../api/findings";
import { counted, latency } from "../ui/times";

/** What the numbers beside the sentence say for themselves. */
export function asideOf(f: Findings): string {
  if (f.counts.attempts === 0) {
    return "Mark where the behaviour begins, your marker and the reward; the numbers appear here.";
  }
  if (f.marker_latency_s.median === null) {
    return "Once a marker is placed, its distance from the behaviour is measured here.";
  }
  const median = latency(Math.abs(f.marker_latency_s.median), 2).slice(1);
  const side = f.marker_latency_s.median < 0 ? "before" : "after";
  return `Your marker fell ${median} ${side} the behaviour began, in the middle of ${counted(f.marker_latency_s.n, "marked rep")}. ${surenessOf(f)}`;
}

function surenessOf(f: Findings): string {
  const said: string[] = [];
  const { median_low: low, median_high: high, n } = f.marker_latency_s;
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
