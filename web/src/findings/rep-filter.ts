/** Which reps stand behind a number. */

import type { Findings, Rep } from "../api/findings";

export interface RepFilter {
  key: string;
  words: string;
  holds: (rep: Rep, findings: Findings) => boolean;
}

/** Every number's reps, by the key in the address. */
export const FILTERS: RepFilter[] = [
  { key: "all", words: "All reps", holds: () => true },
  { key: "marked", words: "Marked reps", holds: (r) => r.marker_id !== null },
  { key: "early", words: "Marked before the behaviour", holds: (r) => r.timing === "early" },
  { key: "on_time", words: "Marked on time", holds: (r) => r.timing === "on_time" },
  { key: "late", words: "Marked late", holds: (r) => r.timing === "late" },
  { key: "over", words: "Marked after it was over", holds: (r) => r.behaviour_over === true },
  { key: "rewarded", words: "Rewarded reps", holds: (r) => r.reward_ids.length > 0 },
  {
    key: "slow",
    words: "Rewarded more than 3 s after the marker",
    holds: (r) => (r.reward_latency_s ?? 0) > 3,
  },
  {
    key: "unpaid",
    words: "Marked and not rewarded",
    holds: (r, f) => r.marker_id !== null && f.loose.unrewarded_markers.includes(r.marker_id),
  },
  { key: "fits", words: "Reps that fit", holds: (r) => r.met === true },
  { key: "not_yet", words: "Reps that did not fit yet", holds: (r) => r.met === false },
  { key: "unjudged", words: "Reps not judged yet", holds: (r) => r.met === null },
];

const STEP = "step:";

/** The key under which the reps of one step stand. */
export function stepKey(approximation: string | null): string {
  return STEP + (approximation ?? "");
}

/** The filter of a key, all reps for an unknown one. */
export function filterOf(
  key: string | null,
  titleOf: (approximation: string | null) => string,
): RepFilter {
  if (key?.startsWith(STEP)) {
    const step = key.slice(STEP.length) || null;
    return { key, words: titleOf(step), holds: (r) => r.approximation === step };
  }
  return FILTERS.find((f) => f.key === key) ?? (FILTERS[0] as RepFilter);
}
