/** The ladder's axis: seconds from the instant the behaviour begins, the same in every row. */

/** Room for a row's number and its word, pixels. */
const LABEL = 92;
export const WIDTH = 516;
export const FROM_S = -1;
export const TO_S = 5;

/** Horizontal place of a time from onset. */
export function ladderX(s: number): number {
  const x = LABEL + ((s - FROM_S) / (TO_S - FROM_S)) * (WIDTH - LABEL - 22);
  return Math.min(WIDTH - 4, Math.max(LABEL - 6, x));
}
