/** How far a chain is joined and what is next, in words. */

import type { components } from "../api/schema";
import { t } from "../words";

export type Chaining = components["schemas"]["Chaining"];
type Join = Chaining["joins"][number];
type PartState = Chaining["parts"][number];

/** What to do at the chain next, and why. */
export function chainNextWords({ parts, next }: Chaining): string {
  const name = (key: string) => parts.find((one) => one.key === key)?.title ?? key;
  const named = next.parts.map(name);
  const row = named.reduce((first, second) => t("domain:chain.then", { first, second }));
  const part = name(next.part ?? "");
  const what = {
    ease: t("domain:chain.ease", { parts: row }),
    part: t("domain:chain.part", { part }),
    begin: t("domain:chain.begin", { parts: row }),
    join: t("domain:chain.join", { part, parts: row }),
    mend: t("domain:chain.mend", { part, parts: row }),
    keep: t("domain:chain.keep", { parts: row }),
    whole: t("domain:chain.whole"),
  }[next.why];
  const isBeside = next.beside.length > 0 && next.why !== "mend";
  return [
    what,
    isBeside && t("domain:chain.beside", { parts: next.beside.map(name).join(", ") }),
    next.step === null && next.why !== "mend" && t("domain:chain.no_step"),
  ]
    .filter(Boolean)
    .join(" ");
}

/** How often one part led to the next. */
export function joinWords({ reached }: Join): string {
  return reached.of === 0
    ? t("domain:chain.not_together")
    : t("domain:chain.came_on", { count: reached.count, of: reached.of });
}

/** How a part goes by itself; nothing where no step trains it alone. */
export function aloneWords({ step, success }: PartState): string {
  if (step === null || success.of === 0) return t("domain:chain.not_alone");
  return t("domain:chain.alone", { count: success.count, of: success.of });
}
