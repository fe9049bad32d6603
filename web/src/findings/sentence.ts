/** The findings in one sentence, from the numbers alone. */

import type { Findings } from "../api/findings";
import { counted, latency } from "../ui/times";

/** What the session says first, and what stands beside it. */
export function sentenceOf(f: Findings): { headline: string; aside: string } {
  const marked = f.marker_latency_s;
  if (f.counts.attempts === 0) {
    return {
      headline: "Nothing is coded yet.",
      aside:
        "Mark where the behaviour begins, your marker and the reward; the numbers appear here.",
    };
  }
  if (marked.median === null) {
    return {
      headline: `${counted(f.counts.attempts, "rep")}, none of them marked.`,
      aside: "Once a marker is placed, its distance from the behaviour is measured here.",
    };
  }
  return { headline: headlineOf(f, marked.median), aside: asideOf(f) };
}

function headlineOf(f: Findings, median: number): string {
  const place =
    f.marker_latency_s.n === 1
      ? "on the one marked rep"
      : `in the middle of ${f.marker_latency_s.n} marked reps`;
  const first =
    Math.abs(median) < 0.0005
      ? `Your marker fell on the very instant it began, ${place}`
      : `Your marker fell ${latency(Math.abs(median), 2).slice(1)} ${median < 0 ? "before" : "after"} the behaviour began, ${place}`;
  const over = f.timing.behaviour_over ?? 0;
  const { early } = f.timing;
  if (over > 0 && over >= early) {
    return `${first}; on ${over} of them the behaviour was already over.`;
  }
  if (early > 0) return `${first}; on ${early} of them it came before the behaviour.`;
  return `${first}.`;
}

function asideOf(f: Findings): string {
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
