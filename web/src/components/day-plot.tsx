import type { ReactNode } from "react";

import { language } from "../words";
import { LineAcross, PlotText } from "./plot-parts";

const RIGHT = 12;
const TOP = 10;
const DAY_MS = 86_400_000;

interface DayPlotProps {
  label: string;
  /** ISO days, in order. */
  days: string[];
  height?: number;
  /** 640 for half the page, twice as much for all of it. */
  width?: number;
  left?: number;
  /** Lines that are named by words, not by numbers. */
  worded?: boolean;
  /** Lines across with their names, in the units of `y`. */
  lines: { at: number; name: string }[];
  /** Where a value lies upward, 0 at the foot and 1 at the top. */
  up: (value: number) => number;
  children: (x: (day: string) => number, y: (value: number) => number) => ReactNode;
}

/** A plot over the calendar: weeks on its foot, values on its own scale. */
export function DayPlot({
  label,
  days,
  height = 190,
  width = 640,
  left = 40,
  worded,
  lines,
  up,
  children,
}: DayPlotProps) {
  const foot = height - 22;
  const first = dayNumber(days[0] ?? "");
  const last = Math.max(first + 1, dayNumber(days.at(-1) ?? ""));
  const x = (day: string) =>
    left + 8 + ((dayNumber(day) - first) / (last - first)) * (width - left - 8 - RIGHT);
  const y = (value: number) => foot - up(value) * (foot - TOP);
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="w-full" role="img" aria-label={label}>
      {lines.map(({ at, name }) => (
        <LineAcross key={name} left={left} right={width - RIGHT} y={y(at)} worded={worded}>
          {name}
        </LineAcross>
      ))}
      {mondays(first, last, (width - left) / 70).map((day) => (
        <g key={day}>
          <path d={`M${x(day)} ${foot}v4`} stroke="var(--line)" />
          <PlotText x={x(day)} y={foot + 17} anchor="middle">
            {shortDay(day)}
          </PlotText>
        </g>
      ))}
      <path d={`M${left} ${foot}H${width - RIGHT}`} stroke="var(--line)" />
      {children(x, y)}
    </svg>
  );
}

function dayNumber(day: string): number {
  return Math.round(Date.parse(`${day}T00:00:00Z`) / DAY_MS);
}

/** Mondays between two days, so many that their names do not touch. */
function mondays(first: number, last: number, most: number): string[] {
  // Day 4 after the epoch's first was a Monday.
  const start = first + ((((4 - first) % 7) + 7) % 7);
  const weeks = Math.max(1, Math.ceil((last - first) / 7 / most));
  const found = [];
  for (let day = start; day <= last; day += 7 * weeks) {
    found.push(new Date(day * DAY_MS).toISOString().slice(0, 10));
  }
  return found;
}

/** A day as `12 Oct`. */
export function shortDay(iso: string): string {
  return new Date(`${iso}T12:00:00`).toLocaleDateString(language().locale, {
    day: "numeric",
    month: "short",
  });
}
