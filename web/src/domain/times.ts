/** How instants, latencies and counts are written, everywhere the same. */

const MINUS = "−";

/** A recording time in microseconds as `1:23.467`. */
export function clock(us: number): string {
  const ms = Math.round(Math.abs(us) / 1000);
  const minutes = Math.floor(ms / 60_000);
  const seconds = ((ms % 60_000) / 1000).toFixed(3).padStart(6, "0");
  return `${us < 0 && ms > 0 ? MINUS : ""}${minutes}:${seconds}`;
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
  return ms === 0 ? "0 ms" : `${ms < 0 ? MINUS : "+"}${Math.abs(ms)} ms`;
}

/** What a standard uncertainty in seconds leaves open, 95 of 100 times: `±27 ms`. */
export function uncertainty(s: number): string {
  return `±${Math.max(1, Math.round(1.96 * s * 1000))} ms`;
}

/** A share as `87 %`. */
export function percent(share: number): string {
  return `${Math.round(share * 100)} %`;
}

/** A chance as `3 %`; one that is hardly there is not said to be none. */
export function chance(p: number): string {
  return p < 0.01 ? "less than 1 %" : p > 0.99 ? "more than 99 %" : percent(p);
}

/** A count with its noun: `1 rep`, `3 reps`. */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n.toLocaleString("en").replace(/,/g, " ")} ${n === 1 ? one : many}`;
}
