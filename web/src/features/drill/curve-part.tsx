import { DayPlot } from "../../components/day-plot";
import { SpreadDot } from "../../components/plot-parts";
import type { DrillRow, Drills } from "../../domain/drill";
import { counted, milliseconds, uncertainty } from "../../domain/times";
import { t } from "../../words";
import type { DrillKind } from "./drill-kind";

type Told = DrillRow & { lag_s: number };

/** One's own lag over the weeks, of the one kind of drill: like is put beside like. */
export function CurvePart({ drills, kind }: { drills: Drills; kind: DrillKind }) {
  const isAlike = (of: Omit<DrillKind, "asked">) =>
    of.instant === kind.instant && of.level === kind.level && of.source === kind.source;
  const runs = drills.runs
    .filter((run): run is Told => isAlike(run) && !run.left_out && run.lag_s !== null)
    .reverse();
  const curve = drills.curves.find(isAlike);
  const days = runs.map((run) => run.at.slice(0, 10));
  const top = Math.max(0.4, ...runs.map((run) => run.high_s ?? run.lag_s)) * 1.08;
  const bottom = Math.min(0, ...runs.map((run) => run.low_s ?? run.lag_s));
  const line = curve?.lag;
  const said = `${t(`drill:choices.it_${kind.instant}`)} · ${t(`drill:level.${kind.level}`)}`;
  return (
    <section aria-labelledby="curve">
      <h2 id="curve" className="text-[16px] font-semibold">
        {t("drill:curve.over_the_weeks")}
      </h2>
      <p className="text-[13px] text-soft">{said}</p>
      {runs.length === 0 ? (
        <p className="mt-1">{t("drill:curve.nothing_yet")}</p>
      ) : (
        <>
          <DayPlot
            label={t("drill:curve.label", { kind: said, drills: counted(runs.length, "drill") })}
            days={days}
            width={400}
            height={170}
            left={46}
            lines={[0, 0.2, 0.4, 0.6, 0.8]
              .filter((at) => at < top)
              .map((at) => ({ at, name: at === 0 ? "0" : `${at.toFixed(1)} s` }))}
            up={(value) => (value - bottom) / (top - bottom)}
          >
            {(x, y) => (
              <>
                {line && line.first_s !== null && line.last_s !== null && line.low_s !== null && (
                  <path
                    d={`M${x(days[0] ?? "")} ${y(line.first_s)}L${x(days.at(-1) ?? "")} ${y(line.last_s)}`}
                    stroke="var(--marker)"
                    strokeWidth={1.5}
                  />
                )}
                {runs.map((run) => {
                  const day = run.at.slice(0, 10);
                  return (
                    <SpreadDot
                      key={run.id}
                      x={x(day)}
                      y={y(run.lag_s)}
                      bar={
                        run.low_s !== null && run.high_s !== null
                          ? [y(run.low_s), y(run.high_s)]
                          : null
                      }
                      colour="var(--marker)"
                    />
                  );
                })}
              </>
            )}
          </DayPlot>
          <p className="text-[13px]">
            {line && changeOf(line)} {curve && scatterOf(curve.spread)}
          </p>
        </>
      )}
    </section>
  );
}

/** Whether single marks come to scatter less or more; nothing where that cannot be told. */
function scatterOf({ per_week_s, low_s, high_s }: Drills["curves"][number]["spread"]): string {
  if (per_week_s === null || low_s === null || high_s === null) return "";
  if (low_s <= 0 && high_s >= 0) return "";
  const change = uncertainty(Math.abs(per_week_s));
  return per_week_s < 0
    ? t("drill:curve.less_scatter", { change })
    : t("drill:curve.more_scatter", { change });
}

/** How the lag changes a week, in words; nothing is claimed of a few days. */
function changeOf(line: Drills["curves"][number]["lag"]): string {
  if (line.per_week_s === null || line.low_s === null || line.high_s === null) {
    return t("drill:curve.too_few_days", { days: counted(line.days, "day") });
  }
  const [low, high] = [line.low_s, line.high_s];
  if (low <= 0 && high >= 0) {
    return t("drill:curve.no_change", { low: milliseconds(low), high: milliseconds(high) });
  }
  // By how much, without its sign: that is said by the word.
  const [least = 0, ms = 0, most = 0] = [low, line.per_week_s, high]
    .map((s) => Math.abs(Math.round(s * 1000)))
    .sort((a, b) => a - b);
  return t(high < 0 ? "drill:curve.sooner" : "drill:curve.later", { ms, least, most });
}
