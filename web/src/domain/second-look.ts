/** Two codings of one session: what differs, what is settled, and where each mark is drawn. */

import type { components } from "../api/schema";
import { t } from "../words";
import { wordsOf } from "./marks";
import { titleOfStep } from "./words";

export type Comparison = components["schemas"]["ComparisonOut"];
export type Pair = Comparison["pairs"][number];
export type Mark = NonNullable<Pair["first"]>;
export type Choice = components["schemas"]["Chosen"];

/** One name for a pair, whichever of the two has it. */
export function pairKey({ first, second }: Pair): string {
  return `${first?.event.id ?? ""}|${second?.event.id ?? ""}`;
}

/** Whether both have the mark, on the same frame, and say the same of it. */
export function isAlike({ frames, differs }: Pair): boolean {
  return frames === 0 && differs.length === 0;
}

/** What both do not have alike, in time order: to be settled, or settled. */
export function differences(pairs: Pair[]): Pair[] {
  return pairs.filter((pair) => !isAlike(pair));
}

/** The next of these that is not settled, after place `at` and then from the start; else null. */
export function nextOpen(pairs: Pair[], at: number): number | null {
  const open = pairs.flatMap((pair, place) => (pair.settled ? [] : place));
  return open.find((place) => place > at) ?? open[0] ?? null;
}

/** The instant a pair stands for, seconds: the first one's mark, or the only one there is. */
export function secondsOf({ first, second }: Pair): number {
  return (first ?? second)?.t_s ?? 0;
}

/** The frames to look at before deciding: those of both marks, and `around` on either side. */
export function framesAround({ first, second }: Pair, around: number, most: number): number[] {
  const own = [first, second].flatMap((mark) => (mark ? mark.frame : []));
  if (own.length === 2 && first?.film_id !== second?.film_id) own.pop();
  const [from, to] = [Math.min(...own) - around, Math.max(...own) + around];
  const all = Array.from({ length: to - from + 1 }, (_, n) => from + n);
  // Far apart: both ends are what matters, and the same number of frames between them.
  const step = Math.ceil(all.length / most);
  const kept = all.filter((frame, n) => n % step === 0 || own.includes(frame));
  return kept.filter((frame) => frame >= 0);
}

/** How far apart, in words: `2 frames later`, `1 frame earlier`, `the same frame`. */
export function framesInWords(frames: number): string {
  if (frames === 0) return t("domain:second_look.the_same_frame");
  const count = Math.abs(frames);
  return frames > 0
    ? t("domain:second_look.frames_later", { count })
    : t("domain:second_look.frames_earlier", { count });
}

/** A mark's kind in words; a marker by what it means. */
export function kindInWords(pair: Pair): string {
  const marker = (pair.first ?? pair.second)?.event["marker"];
  const kind = pair.kind === "marker" && marker !== "event" ? marker : pair.kind;
  return wordsOf(typeof kind === "string" ? kind : pair.kind);
}

/** One field of a mark as it is said: `fits`, `not yet`, or the value itself. */
function fieldInWords(name: string, value: unknown, plan: Record<string, unknown>): string {
  if (name === "met") {
    if (value === true) return t("domain:second_look.fits");
    return value === false ? t("domain:second_look.not_yet") : t("domain:second_look.not_judged");
  }
  if (name === "approximation" && typeof value === "string") return titleOfStep(plan, value);
  if (value === undefined || value === null) return t("domain:second_look.nothing");
  return typeof value === "string" ? value.replaceAll("_", " ") : JSON.stringify(value);
}

/** What the two say differently of a mark: `fits / not yet`. */
export function saidDifferently(
  pair: Pair,
  plan: Record<string, unknown>,
): { name: string; first: string; second: string }[] {
  return pair.differs.map((name) => ({
    name: name.replaceAll("_", " "),
    first: fieldInWords(name, pair.first?.event[name], plan),
    second: fieldInWords(name, pair.second?.event[name], plan),
  }));
}

/** Seconds in a row of the facing ladders. */
const ROWS_S = [10, 15, 20, 30, 60, 120, 300, 600];

/** So long is a row, seconds, that a session of this length has no more than `most` of them. */
export function rowLength(lengthS: number, most: number): number {
  return ROWS_S.find((s) => lengthS / s <= most) ?? Math.ceil(lengthS / most);
}

/** The pairs row by row, each in the row where it begins. */
export function inRows(pairs: Pair[], lengthS: number, rowS: number): Pair[][] {
  const rows: Pair[][] = Array.from({ length: Math.max(1, Math.ceil(lengthS / rowS)) }, () => []);
  for (const pair of pairs) {
    const row = Math.min(rows.length - 1, Math.max(0, Math.floor(secondsOf(pair) / rowS)));
    rows[row]?.push(pair);
  }
  return rows;
}
