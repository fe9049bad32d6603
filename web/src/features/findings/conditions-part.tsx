import { Link } from "react-router";

import type { Level, SideDifference } from "../../api/findings";
import { chance, latency, percent } from "../../domain/times";
import { behind } from "./behind";
import { ClockSuccess } from "./clock-success";
import { Numbers } from "../../components/numbers-behind";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { ShareRows } from "../../components/share-rows";

/** Success by each condition: a clock face, a pair of sides, or levels one under the other. */
export function ConditionsPart({ findings, session, name }: PartOf & { name: string }) {
  const condition = findings.conditions[name];
  if (!condition) return null;
  const levels = Object.entries(condition.levels);
  const link = (level: string) => (
    <Link
      {...behind(`where:${name}=${level}`)}
      preventScrollReset
      className="underline decoration-line underline-offset-3"
    >
      {level}
    </Link>
  );
  const isClock = name === "clock" && levels.every(([level]) => /^(1[0-2]|[1-9])$/.test(level));
  return (
    <Part
      id={`conditions.${name}`}
      session={session}
      about={name}
      title={isClock ? "Around the clock face" : `By ${name}`}
    >
      {isClock ? (
        <ClockSuccess levels={condition.levels} />
      ) : (
        <ShareRows
          colour="var(--behaviour)"
          rows={levels.map(([level, l]) => ({
            key: level,
            name: link(level),
            count:
              l.success.of === 0 ? `${l.attempts} reps` : `${l.success.count} of ${l.success.of}`,
            share: l.success,
          }))}
        />
      )}
      {condition.difference && <SideWords difference={condition.difference} />}
      <Numbers
        caption={`Success by ${name}`}
        heads={[name, "reps", "fit", "could be", "marker"]}
        rows={levels.map(([level, l]) => [
          level,
          l.attempts,
          l.success.of === 0 ? "–" : `${l.success.count} of ${l.success.of}`,
          said(l),
          l.marker_latency_s === null ? "–" : latency(l.marker_latency_s, 2),
        ])}
      />
    </Part>
  );
}

function said({ success }: Level): string {
  return success.low === null || success.high === null
    ? "–"
    : `${percent(success.low)} to ${percent(success.high)}`;
}

/** The difference of two sides in words, with what chance alone would bring. */
function SideWords({ difference }: { difference: SideDifference }) {
  const { first, second, value, low, high, p } = difference;
  if (value === null || low === null || high === null) return null;
  const points = (share: number) => `${share < 0 ? "−" : "+"}${Math.abs(Math.round(share * 100))}`;
  return (
    <p className="mt-1">
      {value === 0
        ? `Both sides the same so far`
        : `The ${value > 0 ? second : first} side is the weaker by ${Math.abs(Math.round(value * 100))} points`}
      , {first} minus {second}: {points(low)} to {points(high)} points (95 %)
      {p !== null && (
        <>
          ; by chance alone as far apart or further: {chance(p)}
          {p >= 0.05 && " of the time, so this can be chance"}
        </>
      )}
      .
    </p>
  );
}
