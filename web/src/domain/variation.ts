/** The variation grid in words. */

import { t } from "../words";
import type { Cell, Grid } from "./behaviour-logbook";
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
export function nextWords({ next, rows }: Grid): string {
  const { why, condition, level } = next;
  if (why === "no_conditions") return t("domain:variation.nothing_planned");
  if (why === "ease") return t("domain:variation.ease_first");
  if (why === "all_hold" || condition === null || level === null)
    return t("domain:variation.all_hold");
  const where = `${condition} ${level}`;
  const others = rows
    .flatMap(({ name }) => {
      const own = next.levels[name];
      return name === condition || own === undefined ? [] : [`${name} ${own}`];
    })
    .join(", ");
  const what = {
    weak: t("domain:variation.next_weak", { where }),
    due: t("domain:variation.next_due", { where }),
    building: t("domain:variation.next_building", { where }),
    next: t("domain:variation.next_new", { where }),
  }[why];
  return others ? `${what} ${t("domain:variation.together_with", { others })}` : what;
}
