import type { Findings } from "../api/findings";
import { shortClock } from "../ui/times";

const WIDTH = 640;
const HEIGHT = 130;
const FOOT = 104;

/** Pay through the session: the trailing rate, and the dry spells it fell into. */
export function RatePlot({ findings }: { findings: Findings }) {
  const curve = findings.rate_curve;
  const last = curve.at(-1);
  if (!last) {
    return (
      <p className="text-soft">The course of the rate shows from ten seconds of training on.</p>
    );
  }
  const end = Math.max(last.t_s, ...findings.dry_spells.spells.map((s) => s.end_s));
  const top = Math.max(8, ...curve.map((p) => p.per_min)) * 1.1;
  const x = (s: number) => 34 + (s / end) * (WIDTH - 42);
  const y = (rate: number) => FOOT - (rate / top) * (FOOT - 12);
  const line = curve.map((p) => `${x(p.t_s).toFixed(1)} ${y(p.per_min).toFixed(1)}`).join("L");
  const lines = [5, 10, 20, 40].filter((rate) => rate < top);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="w-full"
      role="img"
      aria-label="Rewards a minute through the session, over the last half minute each"
    >
      {findings.dry_spells.spells.map((spell) => (
        <g key={spell.start_s}>
          <rect
            x={x(spell.start_s)}
            width={x(spell.end_s) - x(spell.start_s)}
            y={4}
            height={FOOT - 4}
            fill="var(--zone-early)"
          />
          <text x={x(spell.start_s) + 5} y={17} fontSize={11.5} fill="var(--marker)">
            {Math.round(spell.length_s)} s dry
          </text>
        </g>
      ))}
      {lines.map((rate) => (
        <g key={rate}>
          <path d={`M34 ${y(rate)}H${WIDTH - 8}`} stroke="var(--hair)" />
          <text
            x={28}
            y={y(rate) + 4}
            textAnchor="end"
            fontSize={11.5}
            className="num"
            fill="var(--soft)"
          >
            {rate}
          </text>
        </g>
      ))}
      <path
        d={`M${line}L${x(last.t_s)} ${FOOT}L${x(curve[0]?.t_s ?? 0)} ${FOOT}Z`}
        fill="var(--reward)"
        opacity={0.13}
      />
      <path d={`M${line}`} fill="none" stroke="var(--reward)" strokeWidth={1.6} />
      <path d={`M34 ${FOOT}H${WIDTH - 8}`} stroke="var(--line)" />
      <text x={34} y={FOOT + 17} fontSize={11.5} className="num" fill="var(--soft)">
        0:00
      </text>
      <text
        x={WIDTH - 8}
        y={FOOT + 17}
        fontSize={11.5}
        textAnchor="end"
        className="num"
        fill="var(--soft)"
      >
        {shortClock(end)}
      </text>
    </svg>
  );
}
