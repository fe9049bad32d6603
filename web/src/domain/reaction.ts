/** A reviewer's reaction lag from the taps of a test. */

/** The reviewer's own reaction lag and its spread, seconds. */
export interface Lag {
  lagS: number;
  sdS: number;
}

/** Fewer taps than these say too little. */
export const LEAST_TAPS = 6;
/** Before anybody was measured: a usual lag, and a spread wide enough to be honest. */
export const USUAL_LAG: Lag = { lagS: 0.25, sdS: 0.08 };

/**
 * Median lag, and the spread by the interquartile range (÷ 1.349, the normal one), which
 * one tap far off does not move. Null for fewer than six taps.
 */
export function lagOf(lags: number[]): Lag | null {
  if (lags.length < LEAST_TAPS) return null;
  const sorted = [...lags].sort((a, b) => a - b);
  const at = (share: number) => {
    const place = share * (sorted.length - 1);
    const low = Math.floor(place);
    const [a = 0, b = a] = sorted.slice(low, low + 2);
    return a + (place - low) * (b - a);
  };
  const sdS = (at(0.75) - at(0.25)) / 1.349;
  return { lagS: round3(at(0.5)), sdS: round3(Math.max(0.01, sdS)) };
}

function round3(s: number): number {
  return Math.round(s * 1000) / 1000;
}
