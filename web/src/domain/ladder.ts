/** A ladder of quantity in words. */

import type { components } from "../api/schema";
import { t } from "../words";
import { day } from "./words";

export type Ladder = components["schemas"]["QuantityLadder"];
type Rung = Ladder["rungs"][number];

/** A value with its unit. */
export function rungWords({ unit }: Ladder, value: number): string {
  return t("domain:ladder.rung", { value: +value.toFixed(2), unit });
}

/** Which rung is next, and what it rests on. */
export function ladderNextWords(ladder: Ladder): string {
  const { rungs, next, at, why, school, criterion, unit } = ladder;
  const rung = rungWords(ladder, rungs[next]?.value ?? 0);
  const above = rungs[at + 1]?.not_before;
  const what = {
    few: t("domain:ladder.few", { rung }),
    up: t("domain:ladder.up", { rung }),
    down: t("domain:ladder.down", { rung }),
    stay: t("domain:ladder.stay", { rung }),
    wait: t("domain:ladder.wait", { rung, day: above ? day(above) : "" }),
    top: t("domain:ladder.top", { rung }),
    ease: t("domain:ladder.ease", { rung }),
  }[why];
  // What it rests on is the rung it came from, where it goes up.
  const from = rungs[why === "up" ? Math.max(0, next - 1) : next];
  if (!from || from.reached.of === 0) return what;
  const because =
    school === "percentile" && criterion !== null
      ? t("domain:ladder.because_percentile", { criterion: +criterion.toFixed(2), unit })
      : t("domain:ladder.because_share", {
          count: from.reached.count,
          of: from.reached.of,
          rung: rungWords(ladder, from.value),
        });
  return `${what} ${because}`;
}

/** What to keep in mind at a rung, each in a sentence. */
export function cautionWords({ cautions }: Rung): string[] {
  return cautions.map((caution) => CAUTIONS[caution]);
}

const CAUTIONS: Record<Rung["cautions"][number], string> = {
  limit: t("domain:ladder.limit"),
  withers: t("domain:ladder.withers"),
  growing: t("domain:ladder.growing"),
  surface: t("domain:ladder.surface"),
};
