import type { ReactNode } from "react";

import { fitted } from "../domain/beeswarm";
import { CouldBe, PlotText } from "./plot-parts";

const WIDTH = 640;
const HEIGHT = 108;
const MIDDLE = 46;
const FOOT = 84;
/** Rows of glyphs on either side of the middle before they grow smaller. */
const MOST_ROWS = 3;

interface LatencyPlotProps {
  label: string;
  values: { id: string; value: number; strong: boolean }[];
  from: number;
  to: number;
  /** What the zero is called. */
  zero: string;
  median: { at: number; low: number | null; high: number | null } | null;
  ground: (x: (s: number) => number, height: number) => ReactNode;
  glyph: (x: number, y: number, strong: boolean) => ReactNode;
}

/** Latencies as the house's own glyphs on a line of seconds, with the middle and its range. */
export function LatencyPlot(props: LatencyPlotProps) {
  const { label, values, from, to, zero, median, ground, glyph } = props;
  const x = (s: number) =>
    8 + ((Math.min(to, Math.max(from, s)) - from) / (to - from)) * (WIDTH - 16);
  const xs = values.map((v) => x(v.value));
  const { size, row } = fitted(xs, 10, MOST_ROWS);
  const ticks: number[] = [];
  const step = to - from > 4 ? 1 : 0.5;
  for (let s = Math.ceil(from / step) * step; s <= to + 1e-9; s += step) ticks.push(s);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img" aria-label={label}>
      {ground(x, FOOT)}
      <path d={`M8 ${FOOT}H${WIDTH - 8}`} stroke="var(--line)" />
      {ticks.map((s) => (
        <g key={s}>
          <path d={`M${x(s)} ${FOOT}v5`} stroke="var(--line)" />
          <PlotText
            x={x(s)}
            y={FOOT + 18}
            anchor={s === ticks[0] ? "start" : s === ticks.at(-1) ? "end" : "middle"}
          >
            {Math.abs(s) < 1e-9 ? zero : `${s > 0 ? "+" : "−"}${Math.abs(s)} s`}
          </PlotText>
        </g>
      ))}
      {median && (
        <>
          {median.low !== null && median.high !== null && (
            <CouldBe
              from={[x(median.low), FOOT - 5]}
              to={[x(median.high), FOOT - 5]}
              colour="var(--ink)"
            />
          )}
          <path d={`M${x(median.at)} ${FOOT - 11}v11`} stroke="var(--ink)" strokeWidth={2} />
        </>
      )}
      {values.map((v, i) => (
        <g
          key={v.id}
          transform={`translate(${xs[i] ?? 0} ${MIDDLE - (row[i] ?? 0) * 11 * size}) scale(${size})`}
        >
          {glyph(0, 0, v.strong)}
        </g>
      ))}
    </svg>
  );
}
