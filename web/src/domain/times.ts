/** How instants, latencies and counts are written, everywhere the same. */

import { t } from "../words";
import type common from "../words/en/common.json";

const MINUS = "−";

/** A recording time in microseconds as `1:23.467`. */
export function clock(us: number): string {
  const ms = Math.round(Math.abs(us) / 1000);
  const minutes = Math.floor(ms / 60_000);
  const seconds = ((ms % 60_000) / 1000).toFixed(3).padStart(6, "0");
  return `${us < 0 && ms > 0 ? MINUS : ""}${minutes}:${seconds}`;
}

/** Seconds to the microsecond, as marks are stored. */
export function round6(s: number): number {
  return Math.round(s * 1e6) / 1e6;
}

/** A length in seconds as `1:23`. */
export function shortClock(s: number): string {
  const whole = Math.round(s);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

/** A signed difference in seconds as `+0.300 s`. */
export function latency(s: number, digits = 3): string {
  const text = Math.abs(s).toFixed(digits);
  const sign = s < 0 && Number(text) !== 0 ? MINUS : "+";
  return `${sign}${text} s`;
}

/** A signed difference in seconds as whole milliseconds: `+33 ms`. */
export function milliseconds(s: number): string {
  const ms = Math.round(s * 1000);
  return ms === 0
    ? "0 ms"
    : t("domain:times.which_ms_ms", { which: ms < 0 ? MINUS : "+", ms: Math.abs(ms) });
}

/** What a standard uncertainty in seconds leaves open, 95 of 100 times: `±27 ms`. */
export function uncertainty(s: number): string {
  return t("domain:times.max_ms", { max: Math.max(1, Math.round(1.96 * s * 1000)) });
}

/** A share as `87 %`. */
export function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}

/** A chance as `3 %`; one that is hardly there is not said to be none. */
export function chance(p: number): string {
  return p < 0.01
    ? t("domain:times.less_than_1")
    : p > 0.99
      ? t("domain:times.more_than_99")
      : percent(p);
}

/** What can be counted, by its name among the words. */
export type Noun = keyof (typeof common)["noun"] extends infer Form
  ? Form extends `${infer Name}_other`
    ? Name
    : never
  : never;

/** The noun alone, as it stands after this count: `rep`, `reps`. */
export function nounFor(n: number, noun: Noun): string {
  return t(`common:noun.${noun}`, { count: n });
}

/** A count with its noun: `1 rep`, `3 reps`. */
export function counted(n: number, noun: Noun): string {
  return `${n.toLocaleString("en").replace(/,/g, " ")} ${nounFor(n, noun)}`;
}
