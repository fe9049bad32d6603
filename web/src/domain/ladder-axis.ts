/** The ladder's axis: seconds from the instant the behaviour begins, the same in every row. */

/** Room for a row's number and its word, pixels. */
const LABEL = 92;
/** Beside the film; where the ladder stands under it, it is as wide as there is room. */
export const WIDTH = 516;
/** Ends an axis may have, seconds; it begins a fifth of that before the onset. */
const ENDS = [5, 10, 20, 30, 50, 100, 200, 500];
/** So many of the reps end on the axis; a few long ones do not make all the others small. */
const HELD_SHARE = 0.9;

export interface LadderAxis {
  fromS: number;
  toS: number;
  /** Of a whole row, pixels. */
  width: number;
  /** The whole marks of the axis, seconds from the onset. */
  ticks: number[];
  /** Horizontal place of a time from onset; what lies beyond either end stands at its edge. */
  x: (s: number) => number;
}

export function ladderAxis(toS: number, width = WIDTH): LadderAxis {
  const fromS = -toS / 5;
  return {
    fromS,
    toS,
    width,
    ticks: Array.from({ length: 7 }, (_, n) => ((n - 1) * toS) / 5),
    x: (s) => {
      const x = LABEL + ((s - fromS) / (toS - fromS)) * (width - LABEL - 22);
      return Math.min(width - 4, Math.max(LABEL - 6, x));
    },
  };
}

/** The shortest axis on which most of these lengths, seconds from the onset, end. */
export function axisFor(lengths: number[], width = WIDTH): LadderAxis {
  const sorted = [...lengths].sort((a, b) => a - b);
  const needed = sorted[Math.floor((sorted.length - 1) * HELD_SHARE)] ?? 0;
  return ladderAxis(ENDS.find((end) => end >= needed) ?? ENDS.at(-1) ?? 5, width);
}
