/** What carried over to a new object, gear or place, in words. */

import type { components } from "../api/schema";
import { t } from "../words";

export type Transfer = components["schemas"]["Transfer"];

/** How it went at the new one, against how it had gone at the one before. */
export function transferWords({ before, after, carried }: Transfer): string {
  const counts = {
    met: after.success.count,
    judged: after.success.of,
    met_before: before.success.count,
    judged_before: before.success.of,
  };
  return [
    after.met
      ? t("domain:transfer.first_fits", counts)
      : t("domain:transfer.first_does_not", counts),
    carried === "less"
      ? t("domain:transfer.less_carried")
      : carried === "more"
        ? t("domain:transfer.better")
        : t("domain:transfer.cannot_be_told"),
    answered(before.middle_s, after.response_s),
  ]
    .filter(Boolean)
    .join(" ");
}

/** How soon the first rep came after its cue, beside what was usual before; empty without cues. */
function answered(before: number | null, after: number | null): string {
  if (after === null) return "";
  return before === null
    ? t("domain:transfer.answered", { after: after.toFixed(1) })
    : t("domain:transfer.answered_sooner", {
        after: after.toFixed(1),
        before: before.toFixed(1),
      });
}
