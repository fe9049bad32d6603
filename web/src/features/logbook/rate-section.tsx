import { Numbers } from "../../components/numbers-behind";
import { counted } from "../../domain/times";
import type { Book, LogbookOut } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "../../components/day-plot";
import { SpreadDot } from "../../components/plot-parts";
import { Section } from "./section";
import { t } from "../../words";

const LINES = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200];

/** Pay over the weeks on a scale where equal growth is an equal slope. */
export function RateSection({ book, logbook }: { book: Book; logbook: LogbookOut }) {
  const { growth, rates } = book;
  const byHand = new Set(logbook.sessions.filter((s) => s.by_hand).map((s) => s.session_id));
  const shown = rates.filter((r) => (r.rate.value ?? 0) > 0);
  const highs = shown.map((r) => r.rate.high ?? 1);
  const lows = shown.map((r) => Math.max(r.rate.low ?? 1, (r.rate.value ?? 1) / 4));
  const low = Math.min(...lows) / 1.1;
  const high = Math.max(...highs) * 1.1;
  const up = (value: number) =>
    Math.min(1, Math.max(0, Math.log(value / low) / Math.log(high / low)));
  const first = rates[0]?.date ?? "";
  const last = rates.at(-1)?.date ?? "";
  return (
    <Section
      id="rate"
      title={t("common:rewards_a_minute")}
      value={
        growth.per_week === null
          ? "–"
          : t("logbook:rate_section.per_week_a_week", { per_week: growth.per_week.toFixed(2) })
      }
    >
      {shown.length > 0 && (
        <DayPlot
          label={t("logbook:rate_section.rewards_a_minute_of_ratescount", {
            ratesCount: rates.length,
          })}
          days={rates.map((r) => r.date)}
          lines={LINES.filter((v) => v > low && v < high).map((v) => ({ at: v, name: String(v) }))}
          up={up}
        >
          {(x, y) => (
            <>
              {growth.first_per_min !== null && growth.last_per_min !== null && (
                <path
                  d={`M${x(first)} ${y(growth.first_per_min)}L${x(last)} ${y(growth.last_per_min)}`}
                  stroke="var(--ink)"
                  strokeWidth={1.4}
                  strokeDasharray="6 4"
                />
              )}
              {shown.map(({ id, date, rate }) => (
                <SpreadDot
                  key={id}
                  x={x(date)}
                  y={y(rate.value ?? low)}
                  bar={[y(Math.max(rate.low ?? low, low)), y(rate.high ?? high)]}
                  colour="var(--reward)"
                  fill={byHand.has(id) ? "var(--paper)" : "var(--reward)"}
                  dash={byHand.has(id) ? "2 2" : undefined}
                />
              ))}
            </>
          )}
        </DayPlot>
      )}
      {shown.length < rates.length && (
        <p className="text-soft">
          {t("logbook:rate_section.counted_without_any_reward_not", {
            counted: counted(rates.length - shown.length, "session"),
          })}
        </p>
      )}
      {byHand.size > 0 && (
        <p className="text-[13px] text-soft">
          {t("logbook:rate_section.dashed_rings_counted_by_hand")}
        </p>
      )}
      <Numbers
        caption={t("logbook:rate_section.rewards_a_minute_by_session")}
        heads={[
          t("common:day"),
          t("logbook:rate_section.a_minute"),
          t("common:could_be"),
          t("logbook:rate_section.rewards"),
          t("logbook:rate_section.minutes"),
        ]}
        rows={rates.map((r) => [
          shortDay(r.date),
          r.rate.value?.toFixed(2) ?? "–",
          r.rate.low === null || r.rate.high === null
            ? "–"
            : t("logbook:rate_section.low_to_high", {
                low: r.rate.low.toFixed(2),
                high: r.rate.high.toFixed(2),
              }),
          r.rate.count,
          r.minutes.toFixed(2),
        ])}
      />
    </Section>
  );
}

/** What the growth says, and whether it is more than chance. */
export function growthWords(growth: Book["growth"]): string {
  const { per_week, low, high, days } = growth;
  if (per_week === null || low === null || high === null) {
    return days < 5
      ? t("logbook:rate_section.five_days_or_more")
      : t("logbook:rate_section.these_days_do_not_tell");
  }
  const said = {
    per_week: per_week.toFixed(2),
    range: t("logbook:rate_section.could_be", { low: low.toFixed(2), high: high.toFixed(2) }),
  };
  if (low > 1) return t("logbook:rate_section.the_rate_grows", said);
  if (high < 1) return t("logbook:rate_section.the_rate_falls_per_week", said);
  return t("logbook:rate_section.no_growth_beyond_chance", said);
}
