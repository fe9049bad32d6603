/** The logbook as the API gives it; its types are made from `core/history/logbook.py`. */

import type { components } from "../api/schema";
import { t } from "../words";

export type LogbookOut = components["schemas"]["LogbookOut"];
export type Logged = components["schemas"]["LoggedOut"];

/** The logbook itself, under the core's own names. */
export type Book = LogbookOut["book"];
type Schemas = components["schemas"];
export type SessionRate = Schemas["SessionRate"];
export type Landing = Schemas["Landing"];
export type StepSuccess = Schemas["StepSuccess"];
export type SessionTiming = Schemas["SessionTiming"];
export type Week = Schemas["Week"];
export type InShort = Schemas["InShort"];
/** What one session adds beside rate, steps and timing; null where it holds nothing of it. */
export type Trend = Schemas["DayTrend"];

/** The variation grid: the plan's conditions by their levels, and where two of them meet. */
export type Grid = LogbookOut["programme"];
export type NextLevels = Grid["next"];
export type Cell = Schemas["Cell"];
export type Crossing = Schemas["Crossing"];

/** The decisions as they stand in lists. */
export const VERDICT_WORDS: Record<string, string> = {
  raise: t("domain:behaviour_logbook.raise"),
  hold: t("domain:behaviour_logbook.hold"),
  lower: t("domain:behaviour_logbook.a_step_back"),
  split: t("domain:behaviour_logbook.a_smaller_step"),
  fade: t("domain:behaviour_logbook.less_help"),
  proof: t("domain:behaviour_logbook.elsewhere"),
  end: t("domain:behaviour_logbook.stop"),
  none: t("domain:behaviour_logbook.not_judged"),
};

/** What was written beside counts entered by hand. */
export function noteOf(session: Logged): string {
  return session.counts?.note ?? "";
}
