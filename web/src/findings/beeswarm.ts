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
