/** The variation grid in words. */

import { t } from "../words";
import type { Cell, NextLevels } from "./behaviour-logbook";
import { counted } from "./times";

/** How many of the last ten judged there fitted. */
export function lastTen({ success }: Cell): string {
  return success.of === 0
    ? "–"
    : t("domain:variation.met_of_judged", { met: success.count, judged: success.of });
}

/** How it stands at a level, in a few words. */
export function stateWords(cell: Cell): string {
  if (cell.state === "untried") return t("domain:variation.not_tried");
  if (cell.is_due && cell.days_since !== null) {
    return t("domain:variation.due_after", { days: counted(cell.days_since, "day") });
  }
  return {
    few: t("domain:variation.too_few", { last: lastTen(cell) }),
    weak: t("domain:variation.weak", { last: lastTen(cell) }),
    building: t("domain:variation.not_yet", { last: lastTen(cell) }),
    holds: t("domain:variation.holds", { last: lastTen(cell) }),
  }[cell.state];
}

/** What to vary next, and why: one thing at a time. */
export function nextWords(next: NextLevels): string {
  const { why, condition, level, levels, steps_back, minds } = next;
  if (why === "no_conditions") return t("domain:variation.nothing_planned");
  if (why === "ease") return t("domain:variation.ease_first");
  if (why === "step") return t("domain:variation.step_first", { levels: levelWords(levels) });
  if (why === "steady") return t("domain:variation.steady", { levels: levelWords(levels) });
  if (why === "all_hold" || condition === null || level === null)
    return t("domain:variation.all_hold");
  const where = `${condition} ${level}`;
  const others = Object.entries(levels).filter(([name]) => name !== condition);
  const what = {
    weak: t("domain:variation.next_weak", { where }),
    due: t("domain:variation.next_due", { where }),
    building: t("domain:variation.next_building", { where }),
    next: t("domain:variation.next_new", { where }),
  }[why];
  return [
    what,
    others.length > 0 &&
      t("domain:variation.together_with", { others: levelWords(Object.fromEntries(others)) }),
    steps_back === 1 && t("domain:variation.a_step_below"),
    steps_back > 1 && t("domain:variation.two_steps_below"),
    ...minds.map((mind) => MINDS[mind]),
  ]
    .filter(Boolean)
    .join(" ");
}

/** Conditions and their levels, one after another. */
export function levelWords(levels: Record<string, string>): string {
  return Object.entries(levels)
    .map(([name, level]) => `${name} ${level}`)
    .join(", ");
}

const MINDS: Record<NextLevels["minds"][number], string> = {
  apart: t("domain:variation.mind_apart"),
  child: t("domain:variation.mind_child"),
};
