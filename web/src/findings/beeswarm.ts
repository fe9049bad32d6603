/** Rows for dots on a line so that none hides another. */

/** A row (0, 1, -1, 2, …) for each x, so that dots `gap` apart do not touch. */
export function rows(xs: number[], gap: number): number[] {
  const placed: { x: number; row: number }[] = [];
  const result = new Array<number>(xs.length).fill(0);
  const order = xs.map((_, i) => i).sort((a, b) => (xs[a] ?? 0) - (xs[b] ?? 0));
  for (const i of order) {
    const x = xs[i] ?? 0;
    const taken = new Set(placed.filter((p) => Math.abs(p.x - x) < gap).map((p) => p.row));
    let row = 0;
    while (taken.has(row)) row = row > 0 ? -row : -row + 1;
    placed.push({ x, row });
    result[i] = row;
  }
  return result;
}

/** Sizes tried in turn for a crowd, as shares of the usual. */
const SIZES = [1, 0.8, 0.6, 0.45, 0.34, 0.25, 0.18];

/**
 * Rows and the size of the dots with which all of them stay within `most` rows' height on
 * either side, for a usual distance `gap`. A crowd beyond that overlaps.
 */
export function fitted(xs: number[], gap: number, most: number): { size: number; row: number[] } {
  let row: number[] = [];
  for (const size of SIZES) {
    row = rows(xs, gap * size);
    if (Math.max(0, ...row.map(Math.abs)) * size <= most) return { size, row };
  }
  return { size: SIZES.at(-1) ?? 1, row };
}
