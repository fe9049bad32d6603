/** Rows for dots on a line so that none hides another. */

/**
 * A row (0, 1, -1, 2, … up to `most` either way) for each x, so that dots `gap` apart do not
 * touch. Where there are not enough rows: null, or with `overlap` the row left longest ago.
 */
function rowsWithin(xs: number[], gap: number, most: number, overlap: boolean): number[] | null {
  const order = [0];
  for (let row = 1; row <= most; row++) order.push(row, -row);
  const lastIn = new Array<number>(order.length).fill(-Infinity);
  const result = new Array<number>(xs.length).fill(0);
  const sorted = xs.map((_, i) => i).sort((a, b) => (xs[a] ?? 0) - (xs[b] ?? 0));
  for (const i of sorted) {
    const x = xs[i] ?? 0;
    let free = lastIn.findIndex((last) => x - last >= gap);
    if (free < 0 && !overlap) return null;
    if (free < 0) free = lastIn.indexOf(Math.min(...lastIn));
    lastIn[free] = x;
    result[i] = order[free] ?? 0;
  }
  return result;
}

/** A row for each x, as many rows as are needed. */
export function rows(xs: number[], gap: number): number[] {
  return rowsWithin(xs, gap, xs.length, false) ?? [];
}

/** Sizes tried in turn for a crowd, as shares of the usual. */
const SIZES = [1, 0.8, 0.6, 0.45, 0.34, 0.25, 0.18];

/**
 * Rows and the size of the dots with which all of them stay within `most` rows' height on
 * either side, for a usual distance `gap`. A crowd beyond that overlaps.
 */
export function fitted(xs: number[], gap: number, most: number): { size: number; row: number[] } {
  for (const size of SIZES) {
    const isLast = size === SIZES.at(-1);
    const row = rowsWithin(xs, gap * size, Math.floor(most / size), isLast);
    if (row) return { size, row };
  }
  return { size: 1, row: [] };
}
