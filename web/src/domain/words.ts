/** How things are called. */

import type { SessionOut } from "../api/client";
import type { components } from "../api/schema";
import { language, t } from "../words";

/** Whose session this is: learner, behaviour, day. */
export function crumbOf(session: Pick<SessionOut, "learner" | "behaviour" | "date">): string {
  return [session.learner, session.behaviour, session.date && day(session.date)]
    .filter(Boolean)
    .join(" · ");
}

/** A date as `Sat 2 May`. */
export function day(iso: string): string {
  return new Date(`${iso}T12:00:00`).toLocaleDateString(language().locale, {
    weekday: "short",
    day: "numeric",
    month: "short",
  });
}

/** How strong a sign is, by its severity from 1 to 3. */
export const SEVERITIES = [
  "",
  t("domain:words.slight"),
  t("domain:words.marked"),
  t("domain:words.severe"),
];

/** The title of an approximation by its key. */
export function titleOfStep(
  plan: components["schemas"]["SessionPlan"],
  key: string | null,
): string {
  if (key === null) return t("domain:words.no_step_named");
  return plan.approximations?.find((step) => step.key === key)?.title || key;
}
