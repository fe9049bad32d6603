/** What is said beside the sentence, from the numbers alone. */

import type { Findings } from "../api/findings";
import { counted, latency } from "./times";
import { t } from "../words";

/** What the numbers beside the sentence say for themselves. */
export function asideOf(f: Findings, titleOf: (key: string | null) => string): string {
  if (f.counts.attempts === 0) {
    return t("domain:sentence.mark_where_the_behaviour_begins");
  }
  const now = f.in_force;
  const middle = now?.timing_error_s.median ?? null;
  if (!now || middle === null) {
    return f.marker_latency_s.n > 0
      ? t("domain:sentence.at_the_step_worked_last")
      : t("domain:sentence.once_a_marker_is_placed");
  }
  const at =
    now.approximation === null
      ? ""
      : t("domain:sentence.at_approximation_your", { approximation: titleOf(now.approximation) });
  const size = latency(Math.abs(middle), 2).slice(1);
  const side = middle < 0 ? t("common:before") : t("common:after");
  return t("domain:sentence.at_marker_fell_size_side", {
    at: at || t("domain:sentence.your"),
    size,
    side,
    hold_s: INSTANTS[now.mark_at ?? "onset"](now.hold_s),
    n: counted(now.timing_error_s.n, "marked_rep"),
    sureness: surenessOf(f),
  });
}

/** The instant the plan wants a marker at, in words. */
const INSTANTS = {
  onset: () => t("domain:sentence.the_behaviour_began"),
  hold: (hold_s: number | null) =>
    t("domain:sentence.it_was_held_for_hold", { hold_s: hold_s ?? 0 }),
  offset: () => t("domain:sentence.the_behaviour_ended"),
};

function surenessOf(f: Findings): string {
  const said: string[] = [];
  const { median_low: low, median_high: high, n } = (f.in_force ?? f).timing_error_s;
  said.push(
    low !== null && high !== null
      ? t("domain:sentence.with_n_reps_the_true", {
          n,
          low: latency(low, 2),
          high: latency(high, 2),
        })
      : t("domain:sentence.too_few_to_say", { count: n, n: counted(n, "marked_rep") }),
  );
  const unpaid = f.counts.unrewarded_markers;
  if (unpaid > 0) {
    said.push(
      t("domain:sentence.unpaid_brought_no_reward_a", { unpaid: counted(unpaid, "marker") }),
    );
  }
  if (f.counts.orphan_markers > 0) {
    said.push(
      t("domain:sentence.orphan_markers_fell_on_nothing", {
        orphan_markers: counted(f.counts.orphan_markers, "marker"),
      }),
    );
  }
  return said.join(" ");
}
