/**
 * Kendall's test that values rise or fall with time, two-sided: exact without ties up to 33 values,
 * else by the normal law with its ties (Kendall, Rank Correlation Methods, 4th ed.).
 */

const MOST_EXACT = 33;

/** Chance's p; null for fewer than three values, or where either never differs. */
export function kendallP(x: readonly number[], y: readonly number[]): number | null {
  const n = x.length;
  if (n < 3) return null;
  let [concordant, discordant, both] = [0, 0, 0];
  for (let i = 0; i < n; i++) {
    for (let j = i + 1; j < n; j++) {
      const product = sign(x, i, j) * sign(y, i, j);
      if (product > 0) concordant++;
      else if (product < 0) discordant++;
      else both++;
    }
  }
  const pairs = (n * (n - 1)) / 2;
  const [tx, ty] = [tiesOf(x), tiesOf(y)];
  if (tx.pairs === pairs || ty.pairs === pairs) return null;
  const isSmall = n <= MOST_EXACT || Math.min(discordant, pairs - discordant) <= 1;
  if (both === 0 && isSmall) return exactP(n, pairs - discordant);
  const m = n * (n - 1);
  const variance =
    (m * (2 * n + 5) - tx.fives - ty.fives) / 18 +
    (2 * tx.pairs * ty.pairs) / m +
    (tx.triples * ty.triples) / (9 * m * (n - 2));
  return erfc(Math.abs(concordant - discordant) / Math.sqrt(2 * variance));
}

const sign = (values: readonly number[], i: number, j: number) =>
  Math.sign((values[j] ?? 0) - (values[i] ?? 0));

function tiesOf(values: readonly number[]) {
  const counts = new Map<number, number>();
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1);
  const sum = (of: (t: number) => number) => [...counts.values()].reduce((s, t) => s + of(t), 0);
  return {
    pairs: sum((t) => (t * (t - 1)) / 2),
    triples: sum((t) => t * (t - 1) * (t - 2)),
    fives: sum((t) => t * (t - 1) * (2 * t + 5)),
  };
}

/** Of all orders of n values, twice the share with as few concordant or discordant pairs. */
function exactP(n: number, concordant: number): number {
  const c = Math.min(concordant, (n * (n - 1)) / 2 - concordant);
  // How many orders of so many values have each number of inversions, as shares of all.
  let shares = [1];
  for (let values = 2; values <= n; values++) {
    const next: number[] = [];
    for (let k = 0; k <= c; k++) {
      let sum = 0;
      for (let back = 0; back < values && back <= k; back++) sum += shares[k - back] ?? 0;
      next.push(sum / values);
    }
    shares = next;
  }
  return Math.min(1, 2 * shares.slice(0, c + 1).reduce((sum, share) => sum + share, 0));
}

/** The complementary error function to 1.2e-7 (Press et al., Numerical Recipes, 6.2). */
function erfc(x: number): number {
  const t = 1 / (1 + x / 2);
  const series = [
    ...[-1.26551223, 1.00002368, 0.37409196, 0.09678418, -0.18628806, 0.27886807],
    ...[-1.13520398, 1.48851587, -0.82215223, 0.17087277],
  ];
  const sum = series.reduceRight((value, coefficient) => coefficient + t * value, 0);
  return t * Math.exp(-x * x + sum);
}
