/** What clicks and places of words have in common: instants of the sound, not yet taken up. */

import type { Timeline } from "./timeline";

export interface Suggestion {
  /** Sound time on the session, seconds. */
  soundS: number;
  /** Where that lies on the picture. */
  pictureS: number;
  score: number;
}

/** A mark or refusal this near is meant for the instant, seconds. */
export const AT_S = 0.02;
const MOST_REFUSED = 500;
/** Nothing refused, always the same nothing. */
export const NONE: number[] = [];

/** What was found in each clip, on the session's time, the likeliest first. */
export function onSession<T extends { t_s: number; score: number }>(
  found: (T[] | undefined)[],
  timeline: Timeline,
): (Suggestion & { clip: number })[] {
  return found
    .flatMap((own = [], clip) => {
      const startS = (timeline.clips[clip]?.startUs ?? 0) / 1e6;
      return own.map(({ t_s, score }) => ({
        clip,
        soundS: startS + t_s,
        pictureS: startS + t_s - timeline.soundOffsetS,
        score,
      }));
    })
    .sort((a, b) => b.score - a.score);
}

/** Those nobody has marked or refused, in time order. */
export function stillOpen<S extends Suggestion>(
  shown: S[],
  markedS: number[],
  apartS: number,
  refusedS: number[],
): S[] {
  return shown
    .filter((one) => markedS.every((s) => Math.abs(s - one.pictureS) > apartS))
    .filter((one) => refusedS.every((s) => Math.abs(s - one.soundS) > AT_S))
    .sort((a, b) => a.soundS - b.soundS);
}

/** The next after an instant of the session, seconds; round again at the end. */
export function nextAfter<S extends Suggestion>(open: S[], s: number): S | undefined {
  return open.find((one) => one.pictureS > s + 0.001) ?? open[0];
}

/** The nearest on the picture, if it is within some seconds. */
export function nearestTo<S extends Suggestion>(
  open: S[],
  s: number,
  withinS: number,
): S | undefined {
  return open
    .filter((one) => Math.abs(one.pictureS - s) <= withinS)
    .sort((a, b) => Math.abs(a.pictureS - s) - Math.abs(b.pictureS - s))[0];
}

/** What is refused with one more. */
export function refusedWith(refused: number[], one: Suggestion): number[] {
  return [...refused, Math.round(one.soundS * 1e4) / 1e4].slice(-MOST_REFUSED);
}
