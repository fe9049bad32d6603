import { chance, counted, shortClock } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Main, Part } from "./part";
import type { PartOf } from "./parts";
import { endOf, roundLines, SessionPlot } from "./session-plot";
import { t } from "../../words";

/** Pay through the session: how often, and when none came. */
export function RatePart({ findings, session, titleOf }: PartOf) {
  const rate = findings.rates.reinforcement_per_min;
  const curve = findings.rate_curve;
  const { pay, dry_by_chance: byChance } = findings.certainty;
  const top = Math.max(8, ...curve.map((p) => p.per_min)) * 1.1;
  return (
    <Part
      id="rates"
      session={session}
      about={t("findings:rate_part.the_rate")}
      title={t("findings:rate_part.rewarded_a_minute")}
      value={<Main value={rate.value?.toFixed(1) ?? null} behind={behind("rewarded")} />}
    >
      {curve.length === 0 ? (
        <p className="text-soft">{t("findings:rate_part.the_course_of_the_rate")}</p>
      ) : (
        <SessionPlot
          findings={findings}
          label={t("findings:rate_part.rewards_a_minute_through_the")}
          top={top}
          lines={roundLines(top)}
          titleOf={titleOf}
        >
          {(x, y) => {
            const line = curve.map((p) => `${x(p.t_s).toFixed(1)} ${y(p.per_min).toFixed(1)}`);
            const d = line.join("L");
            return (
              <>
                <path
                  d={`M${d}L${x(curve.at(-1)?.t_s ?? 0)} ${y(0)}L${x(curve[0]?.t_s ?? 0)} ${y(0)}Z`}
                  fill="var(--reward)"
                  opacity={0.13}
                />
                <path d={`M${d}`} fill="none" stroke="var(--reward)" strokeWidth={1.6} />
              </>
            );
          }}
        </SessionPlot>
      )}
      <p>
        {t("findings:rate_part.number_in_training_time_s", {
          number: counted(rate.count, "reinforcement"),
          training_time_s: shortClock(findings.training_time_s),
        })}
        {pay.low !== null && pay.high !== null && (
          <>
            {t("findings:rate_part.taught_like_this_the_true", {
              low: pay.low.toFixed(1),
              high: pay.high.toFixed(1),
              which:
                pay.way === "gaps"
                  ? t("findings:rate_part.from_how_evenly_the_rewards")
                  : t("findings:rate_part.as_if_they_came_by"),
            })}
          </>
        )}
      </p>
      {findings.dry_spells.longest_s !== null && (
        <p className="text-soft">
          {t("findings:rate_part.longest_wait_for_a_reward", {
            longest_s: Math.round(findings.dry_spells.longest_s),
          })}
          {byChance !== null &&
            t("findings:rate_part.rewards_scattered_by_chance_at", { byChance: chance(byChance) })}
          .
        </p>
      )}
      {curve.length > 0 && (
        <Numbers
          caption={t("findings:rate_part.rewards_a_minute_through_the_2")}
          heads={[t("findings:rate_part.at_s"), t("findings:rate_part.a_minute")]}
          rows={curve.map((p) => [p.t_s.toFixed(1), p.per_min.toFixed(2)])}
        />
      )}
    </Part>
  );
}

/** Every reward counted up: a steep line is quick pay, a level one none. */
export function CumulativePart({ findings, session, titleOf }: PartOf) {
  const steps = findings.cumulative;
  const last = steps.at(-1);
  if (!last || steps.length < 2) return null;
  const top = last.count * 1.08;
  return (
    <Part
      id="cumulative"
      session={session}
      about={t("findings:rate_part.the_cumulative_record")}
      title={t("findings:rate_part.rewards_counted_up")}
      value={<Main value={String(last.count)} behind={behind("rewarded")} />}
    >
      <SessionPlot
        findings={findings}
        label={t("findings:rate_part.number_counted_up_through_the", {
          number: counted(last.count, "reinforcement"),
        })}
        top={top}
        lines={roundLines(top)}
        titleOf={titleOf}
      >
        {(x, y) => {
          const stairs = steps.map((s) => `H${x(s.t_s).toFixed(1)}V${y(s.count).toFixed(1)}`);
          return (
            <path
              d={`M${x(0)} ${y(0)}${stairs.join("")}H${x(endOf(findings))}`}
              fill="none"
              stroke="var(--reward)"
              strokeWidth={1.6}
            />
          );
        }}
      </SessionPlot>
      <p className="text-soft">{t("findings:rate_part.the_steeper_the_quicker_the")}</p>
      <Numbers
        caption={t("findings:rate_part.reinforcements_counted_up")}
        heads={[
          t("findings:rate_part.reinforcement"),
          t("findings:rate_part.at_s_2"),
          t("findings:rate_part.training_time_s"),
        ]}
        rows={steps.map((s) => [s.count, s.t_s.toFixed(3), s.training_s.toFixed(3)])}
      />
    </Part>
  );
}
