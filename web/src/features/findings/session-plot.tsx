import type { ReactNode } from "react";

import type { Findings, Moment } from "../../api/findings";
import { LineAcross, PlotText } from "../../components/plot-parts";
import { shortClock } from "../../domain/times";
import { t } from "../../words";

const WIDTH = 640;
const LEFT = 34;
const RIGHT = 8;
const TOP = 24;

interface SessionPlotProps {
  findings: Findings;
  label: string;
  height?: number;
  /** The highest value of the upright axis, and where it has lines. */
  top: number;
  lines: number[];
  titleOf: (key: string | null) => string;
  children: (x: (s: number) => number, y: (value: number) => number) => ReactNode;
}

/** The last instant anything of the session happens at, seconds. */
export function endOf(findings: Findings): number {
  return Math.max(
    1,
    findings.rate_curve.at(-1)?.t_s ?? 0,
    findings.reps.at(-1)?.onset_s ?? 0,
    ...findings.dry_spells.spells.map((spell) => spell.end_s),
  );
}

/** A plot along the session, with the criterion's changes and the dry spells on its ground. */
export function SessionPlot(props: SessionPlotProps) {
  const { findings, label, height = 140, top, lines, titleOf, children } = props;
  const foot = height - 24;
  const end = endOf(findings);
  const x = (s: number) => LEFT + (Math.min(end, Math.max(0, s)) / end) * (WIDTH - LEFT - RIGHT);
  const y = (value: number) => foot - (Math.min(value, top) / top) * (foot - TOP);
  const changes = findings.moments.filter(
    (m): m is Moment => "kind" in m && m.kind === "criterion",
  );
  return (
    <svg viewBox={`0 0 ${WIDTH} ${height}`} className="w-full" role="img" aria-label={label}>
      {findings.dry_spells.spells.map((spell) => (
        <g key={spell.start_s}>
          <rect
            x={x(spell.start_s)}
            width={x(spell.end_s) - x(spell.start_s)}
            y={TOP}
            height={foot - TOP}
            fill="var(--zone-early)"
          />
          <PlotText x={x(spell.start_s) + 5} y={TOP + 13} worded colour="var(--marker)">
            {t("findings:session_plot.length_s_s_dry", { length_s: Math.round(spell.length_s) })}
          </PlotText>
        </g>
      ))}
      {lines.map((value) => (
        <LineAcross key={value} left={LEFT} right={WIDTH - RIGHT} y={y(value)}>
          {value}
        </LineAcross>
      ))}
      {changes.map((change, n) => {
        const at = x(change.t_s);
        const room = (changes[n + 1] ? x(changes[n + 1]?.t_s ?? 0) : WIDTH - RIGHT) - at;
        return (
          <g key={change.id}>
            <path
              d={`M${at} 4V${foot}`}
              stroke="var(--behaviour)"
              strokeDasharray={n === 0 ? undefined : "1 3"}
            />
            <PlotText x={at + 4} y={14} worded colour="var(--behaviour)">
              {fitting(titleOf(change.label), room - 8)}
            </PlotText>
          </g>
        );
      })}
      {children(x, y)}
      <path d={`M${LEFT} ${foot}H${WIDTH - RIGHT}`} stroke="var(--line)" />
      <PlotText x={LEFT} y={foot + 17}>
        0:00
      </PlotText>
      <PlotText x={WIDTH - RIGHT} y={foot + 17} anchor="end">
        {shortClock(end)}
      </PlotText>
    </svg>
  );
}

/** As much of a name as there is room for. */
function fitting(name: string, room: number): string {
  const most = Math.floor(room / 6.3);
  if (name.length <= most) return name;
  return most < 4 ? "" : `${name.slice(0, most - 1)}…`;
}

/** Round numbers up to `top`, four or five of them. */
export function roundLines(top: number): number[] {
  const rough = top / 4;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((m) => m * power).find((s) => s >= rough) ?? rough;
  const lines = [];
  for (let value = step; value < top; value += step) lines.push(Number(value.toPrecision(6)));
  return lines;
}
