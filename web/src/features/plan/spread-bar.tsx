import type { components } from "../../api/schema";

type Spread = components["schemas"]["Spread"];

const [HEIGHT, MIDDLE] = [18, 9];

interface SpreadBarProps {
  spread: Spread;
  /** Where the axis ends; all bars that are compared have the same. */
  most: number;
  width: number;
  strong?: boolean;
}

/** How something came out over the runs: nine of ten, half of them, and the middle one. */
export function SpreadBar({ spread, most, width, strong = false }: SpreadBarProps) {
  const x = (value: number) => 2 + (value / Math.max(most, 1)) * (width - 4);
  return (
    <svg
      width={width}
      height={HEIGHT}
      viewBox={`0 0 ${width} ${HEIGHT}`}
      aria-hidden
      className="max-w-full"
    >
      <path d={`M0 ${MIDDLE}H${width}`} stroke="var(--hair)" />
      <path d={`M${x(spread.low)} ${MIDDLE}H${x(spread.high)}`} stroke="var(--soft)" />
      <rect
        x={x(spread.q1)}
        y={4}
        width={Math.max(2, x(spread.q3) - x(spread.q1))}
        height={10}
        fill={strong ? "var(--reward)" : "var(--line)"}
      />
      <path
        d={`M${x(spread.median)} 1v16`}
        stroke={strong ? "var(--ink)" : "var(--soft)"}
        strokeWidth={2.4}
      />
    </svg>
  );
}
