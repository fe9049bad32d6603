import { Link } from "react-router";

import type { Level, SideDifference } from "../../api/findings";
import { chance, latency, percent } from "../../domain/times";
import { behind } from "./behind";
import { ClockSuccess } from "./clock-success";
import { Numbers } from "../../components/numbers-behind";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { ShareRows } from "../../components/share-rows";
import { t } from "../../words";

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
      title={
        isClock
          ? t("findings:conditions_part.around_the_clock_face")
          : t("findings:conditions_part.by_name", { name })
      }
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
              l.success.of === 0
                ? t("findings:conditions_part.attempts_reps", { attempts: l.attempts })
                : t("findings:conditions_part.number_of_of", {
                    number: l.success.count,
                    of: l.success.of,
                  }),
            share: l.success,
          }))}
        />
      )}
      {condition.difference && <SideWords difference={condition.difference} />}
      <Numbers
        caption={t("findings:conditions_part.success_by_name", { name })}
        heads={[
          name,
          t("findings:conditions_part.reps"),
          t("findings:conditions_part.fit"),
          t("common:could_be"),
          t("findings:conditions_part.marker"),
        ]}
        rows={levels.map(([level, l]) => [
          level,
          l.attempts,
          l.success.of === 0
            ? "–"
            : t("findings:conditions_part.number_of_of", {
                number: l.success.count,
                of: l.success.of,
              }),
          intervalWords(l),
          l.marker_latency_s === null ? "–" : latency(l.marker_latency_s, 2),
        ])}
      />
    </Part>
  );
}

function intervalWords({ success }: Level): string {
  return success.low === null || success.high === null
    ? "–"
    : t("findings:conditions_part.low_to_high", {
        low: percent(success.low),
        high: percent(success.high),
      });
}

/** The difference of two sides in words, with what chance alone would bring. */
function SideWords({ difference }: { difference: SideDifference }) {
  const { first, second, value, low, high, p } = difference;
  if (value === null || low === null || high === null) return null;
  const points = (share: number) => `${share < 0 ? "−" : "+"}${Math.abs(Math.round(share * 100))}`;
  return (
    <p className="mt-1">
      {t("findings:conditions_part.value_first_minus_second_low", {
        value:
          value === 0
            ? t("findings:conditions_part.both_sides_the_same_so")
            : t("findings:conditions_part.the_second_side_is_the", {
                second: value > 0 ? second : first,
                points: Math.abs(Math.round(value * 100)),
              }),
        first,
        second,
        low: points(low),
        high: points(high),
      })}
      {p !== null && (
        <>
          {t("findings:conditions_part.by_chance_alone_as_far", { p: chance(p) })}
          {p >= 0.05 && t("findings:conditions_part.of_the_time_so_this")}
        </>
      )}
      .
    </p>
  );
}
