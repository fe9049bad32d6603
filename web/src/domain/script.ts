/** A session's script in words and blocks. */

import type { components } from "../api/schema";
import { t } from "../words";

export type ScriptLine = components["schemas"]["ScriptLine"];
export type ScriptOut = components["schemas"]["ScriptOut"];
export type FollowedLine = components["schemas"]["FollowedLine"];

/** Lines between two breaks; `first` is the number of its first rep, from 1. */
export interface ScriptBlock {
  first: number;
  lines: ScriptLine[];
}

/** A script's reps and waits in blocks, a break after each but the last. */
export function blocksOf(lines: ScriptLine[]): ScriptBlock[] {
  const blocks: ScriptBlock[] = [];
  let number = 1;
  let open: ScriptBlock | null = null;
  for (const line of lines) {
    if (line.sort === "break") {
      open = null;
      continue;
    }
    if (!open) blocks.push((open = { first: number, lines: [] }));
    open.lines.push(line);
    number += 1;
  }
  return blocks;
}

/** Levels that are the same in every rep: they need saying only once. */
export function commonLevels(lines: ScriptLine[]): Record<string, string> {
  const [first, ...rest] = lines.filter(({ sort }) => sort === "rep");
  return Object.fromEntries(
    Object.entries(first?.levels ?? {}).filter(([name, level]) =>
      rest.every(({ levels }) => levels[name] === level),
    ),
  );
}

/** The levels of a line that are not the common ones. */
export function ownLevels(line: ScriptLine, common: Record<string, string>) {
  return Object.fromEntries(Object.entries(line.levels).filter(([name]) => !(name in common)));
}

/** What to do in a line, in a few words. */
export function lineWords(line: ScriptLine, titleOf: (key: string | null) => string): string {
  if (line.sort === "break") return t("domain:script.break");
  if (line.sort === "wait") return t("domain:script.wait");
  const what = line.step === null ? t("domain:script.a_rep") : titleOf(line.step);
  return line.cue ? t("domain:script.ask", { cue: line.cue, what }) : what;
}

/** How it is paid: how often, and where. */
export function payWords({ pays, placement }: ScriptLine): string {
  if (pays > 1) {
    return placement
      ? t("domain:script.pays_at", { pays, place: placement.replaceAll("_", " ") })
      : t("domain:script.pays", { pays });
  }
  return placement ? placement.replaceAll("_", " ") : "";
}

/** The document of a script as it was shown, to be kept with the session it follows. */
export function scriptDocument({ seed, lines }: Pick<ScriptOut, "seed" | "lines">) {
  return {
    format: "frequens-script",
    version: 1,
    seed,
    lines: lines.map((line) =>
      Object.fromEntries(Object.entries(line).filter(([, value]) => value !== null)),
    ),
  };
}

/** How a line of the script was kept to, in a word or two. */
export function keptWords({ kept, differs }: FollowedLine): string {
  const what = {
    as_planned: t("domain:script.as_planned"),
    swapped: t("domain:script.swapped"),
    skipped: t("domain:script.skipped"),
    extra: t("domain:script.extra"),
    repeated: t("domain:script.repeated"),
  }[kept];
  return differs.length === 0 ? what : `${what} (${differs.map((one) => DIFFERS[one]).join(", ")})`;
}

const DIFFERS: Record<FollowedLine["differs"][number], string> = {
  step: t("domain:script.another_step"),
  levels: t("domain:script.another_level"),
  cue: t("domain:script.another_cue"),
  sort: t("domain:script.asked_or_not"),
};
