import type { ReactNode } from "react";
import { Link } from "react-router";

import type { Share } from "../../api/findings";
import { Numbers } from "../../components/numbers-behind";
import { counted, percent } from "../../domain/times";
import { SEVERITIES } from "../../domain/words";
import type { Book, LogbookOut, Trend } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "../../components/day-plot";
import { SpreadDot } from "../../components/plot-parts";
import { Section } from "./section";
import { t } from "../../words";

/** How the animal was, session by session: shown wherever there was a sign or it left. */
export function EaseSection({ book }: { book: Book }) {
  const { trends } = book;
  if (!trends.some((trend) => trend.signs > 0 || trend.opt_outs > 0)) return null;
  const top = Math.max(2, ...trends.map((trend) => trend.signs + trend.opt_outs));
  const last = trends.at(-1);
  return (
    <Section
      id="ease"
      title={t("logbook:trend_sections.how_it_was_signs_and")}
      value={last && last.signs + last.opt_outs}
    >
      <DayPlot
        label={t("logbook:trend_sections.signs_and_leaving_the_work", {
          trendsCount: trends.length,
        })}
        days={trends.map((trend) => trend.date)}
        height={120}
        lines={[
          { at: 0, name: "0" },
          { at: top, name: String(top) },
        ]}
        up={(value) => value / top}
      >
        {(x, y) =>
          trends.map((trend) => (
            <g key={trend.id} stroke="var(--marker)" fill="none" strokeWidth={2}>
              <path
                d={`M${x(trend.date)} ${y(0)}V${y(trend.signs)}`}
                strokeWidth={5}
                opacity={0.5}
              />
              {trend.opt_outs > 0 && (
                <path
                  d={`M${x(trend.date) - 4} ${y(trend.signs + trend.opt_outs)}h8m-4 -4v8`}
                  strokeWidth={1.8}
                />
              )}
            </g>
          ))
        }
      </DayPlot>
      <p className="text-soft">{t("logbook:trend_sections.the_bar_counts_signs_a")}</p>
      <Numbers
        caption={t("logbook:trend_sections.signs_and_leaving_the_work_2")}
        heads={[
          t("common:day"),
          t("logbook:trend_sections.signs"),
          t("logbook:trend_sections.at_worst"),
          t("logbook:trend_sections.left"),
        ]}
        rows={trends.map((trend) => [
          shortDay(trend.date),
          trend.signs,
          SEVERITIES[trend.worst] || "–",
          trend.opt_outs,
        ])}
      />
    </Section>
  );
}

/** Whether it answers, stays, comes back, joins its chain, and does it alone. */
export function TrendSections({ book, logbook }: { book: Book; logbook: LogbookOut }) {
  const { trends } = book;
  const part = (key: string | null) => (key === null ? "–" : (logbook.parts[key] ?? key));
  const weakest = trends.findLast((trend) => trend.completed !== null)?.weakest ?? null;
  return (
    <>
      <ShareTrend
        id="hits"
        title={t("logbook:trend_sections.answers_when_asked")}
        trends={trends}
        of={(trend) => trend.hits}
        says={t("logbook:trend_sections.of_the_times_it_was")}
        more={[
          [
            t("logbook:trend_sections.said_for_one_asking"),
            (trend) => fixed(trend.said_per_cue, 1),
          ],
          ["d′", (trend) => fixed(trend.d_prime, 2)],
        ]}
      >
        {saidOnce(trends)}
      </ShareTrend>
      <ShareTrend
        id="alarms"
        title={t("logbook:trend_sections.shown_although_nothing_was_asked")}
        trends={trends}
        of={(trend) => trend.alarms}
        says={t("logbook:trend_sections.of_the_waits_lower_is")}
      />
      <ValueTrend
        id="stay"
        title={t("logbook:trend_sections.how_long_it_stays")}
        unit="s"
        trends={trends}
        of={(trend) => trend.stay_s}
        more={[
          [t("logbook:trend_sections.stayed_until_let_go"), (trend) => count(trend.kept)],
          [t("logbook:trend_sections.pays_a_stay"), (trend) => fixed(trend.pays_in_place, 1)],
        ]}
      >
        {paidInPlace(trends)}
      </ValueTrend>
      <ValueTrend
        id="return"
        title={t("logbook:trend_sections.how_soon_it_comes_back")}
        unit="s"
        trends={trends}
        of={(trend) => trend.return_s}
        more={[[t("logbook:trend_sections.did_not_come_back"), (trend) => trend.lost ?? "–"]]}
      />
      <ShareTrend
        id="chain"
        title={t("logbook:trend_sections.chains_done_to_the_end")}
        trends={trends}
        of={(trend) => trend.completed}
        says={t("logbook:trend_sections.of_the_chains_begun")}
        more={[[t("logbook:trend_sections.weakest_part"), (trend) => part(trend.weakest)]]}
      >
        {weakest !== null && (
          <>{t("logbook:trend_sections.the_weakest_part_last_time", { weakest: part(weakest) })}</>
        )}
      </ShareTrend>
      <ShareTrend
        id="alone"
        title={t("logbook:trend_sections.without_help")}
        trends={trends}
        of={(trend) => trend.alone}
        says={t("logbook:trend_sections.of_the_reps_so_many_x")}
      />
    </>
  );
}

type More = [string, (trend: Trend) => string | number][];

interface TrendProps {
  id: string;
  title: string;
  trends: Trend[];
  more?: More;
  children?: ReactNode;
}

/** A share over the days with its 95 % interval; only sessions that hold any of it. */
function ShareTrend({
  id,
  title,
  trends,
  of,
  says,
  more = [],
  children,
}: TrendProps & { of: (trend: Trend) => Share | null; says: string }) {
  const shown = trends.flatMap((trend) => {
    const share = of(trend);
    return share?.share == null ? [] : [{ trend, share }];
  });
  if (shown.length === 0) return null;
  const last = shown.at(-1)?.share;
  return (
    <Section
      id={id}
      title={title}
      value={last && t("logbook:trend_sections.number_of_of", { number: last.count, of: last.of })}
    >
      <DayPlot
        label={`${title}: ${counted(shown.length, "session")}`}
        days={shown.map(({ trend }) => trend.date)}
        height={130}
        left={52}
        lines={[0, 0.5, 1].map((at) => ({ at, name: percent(at) }))}
        up={(value) => value}
      >
        {(x, y) =>
          shown.map(({ trend, share }) => (
            <SpreadDot
              key={trend.id}
              x={x(trend.date)}
              y={y(share.share ?? 0)}
              bar={[y(share.low ?? 0), y(share.high ?? 1)]}
              colour="var(--behaviour)"
              fill="var(--behaviour)"
            />
          ))
        }
      </DayPlot>
      <p className="text-soft">
        {t("logbook:trend_sections.says_the_bar_is_what", { says })} {children}
      </p>
      <Numbers
        caption={t("logbook:trend_sections.title_by_session", { title })}
        heads={[
          t("common:day"),
          t("logbook:trend_sections.count"),
          t("common:could_be"),
          ...more.map(([head]) => head),
        ]}
        rows={shown.map(({ trend, share }) => [
          <Link key={trend.id} to={`/sessions/${trend.id}/findings`}>
            {shortDay(trend.date)}
          </Link>,
          t("logbook:trend_sections.number_of_of", { number: share.count, of: share.of }),
          share.low === null || share.high === null
            ? "–"
            : t("logbook:trend_sections.low_to_high", {
                low: percent(share.low),
                high: percent(share.high),
              }),
          ...more.map(([, value]) => value(trend)),
        ])}
      />
    </Section>
  );
}

/** A middle over the days; only sessions that hold one. */
function ValueTrend({
  id,
  title,
  unit,
  trends,
  of,
  more = [],
  children,
}: TrendProps & { of: (trend: Trend) => number | null; unit: string }) {
  const shown = trends.flatMap((trend) => {
    const value = of(trend);
    return value === null ? [] : [{ trend, value }];
  });
  if (shown.length === 0) return null;
  const top = Math.max(1, ...shown.map(({ value }) => value)) * 1.1;
  const last = shown.at(-1)?.value ?? 0;
  const line = shown.map(({ trend, value }) => [trend.date, value] as const);
  return (
    <Section id={id} title={title} value={`${last.toFixed(1)} ${unit}`}>
      <DayPlot
        label={`${title}: ${counted(shown.length, "session")}`}
        days={shown.map(({ trend }) => trend.date)}
        height={130}
        left={52}
        lines={[0, top / 2, top].map((at) => ({
          at,
          name: `${at.toFixed(at < 10 ? 1 : 0)} ${unit}`,
        }))}
        up={(value) => value / top}
      >
        {(x, y) => (
          <>
            <path
              d={`M${line.map(([day, value]) => `${x(day)} ${y(value)}`).join("L")}`}
              fill="none"
              stroke="var(--behaviour)"
              opacity={0.35}
            />
            {line.map(([day, value], n) => (
              <circle key={n} cx={x(day)} cy={y(value)} r={4} fill="var(--behaviour)" />
            ))}
          </>
        )}
      </DayPlot>
      <p className="text-soft">
        {t("logbook:trend_sections.the_middle_of_each_session")} {children}
      </p>
      <Numbers
        caption={t("logbook:trend_sections.title_by_session", { title })}
        heads={[
          t("common:day"),
          t("logbook:trend_sections.middle_unit", { unit }),
          ...more.map(([head]) => head),
        ]}
        rows={shown.map(({ trend, value }) => [
          <Link key={trend.id} to={`/sessions/${trend.id}/findings`}>
            {shortDay(trend.date)}
          </Link>,
          value.toFixed(2),
          ...more.map(([, said]) => said(trend)),
        ])}
      />
    </Section>
  );
}

function fixed(value: number | null, digits: number): string {
  return value === null ? "–" : value.toFixed(digits);
}

function count(share: Share | null): string {
  return share === null
    ? "–"
    : t("logbook:trend_sections.number_of_of", { number: share.count, of: share.of });
}

function saidOnce(trends: Trend[]) {
  const said = trends.findLast((trend) => trend.said_per_cue !== null)?.said_per_cue ?? null;
  if (said === null) return null;
  return said <= 1
    ? t("logbook:trend_sections.asked_once_each_time")
    : t("logbook:trend_sections.said_words_for_one_asking", { said: said.toFixed(1) });
}

function paidInPlace(trends: Trend[]) {
  const last = trends.findLast((trend) => trend.stay_s !== null);
  if (!last) return null;
  const kept = last.kept
    ? t("logbook:trend_sections.number_of_of_stayed_until", {
        number: last.kept.count,
        of: last.kept.of,
      })
    : "";
  const paid =
    last.pays_in_place === null
      ? ""
      : t("logbook:trend_sections.paid_pays_in_place_times", {
          pays_in_place: last.pays_in_place.toFixed(1),
        });
  return kept ? t("logbook:trend_sections.last_time_kept_paid", { kept, paid }) : null;
}
