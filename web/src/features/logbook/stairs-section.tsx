import { Numbers } from "../../components/numbers-behind";
import { ShareRows } from "../../components/share-rows";
import { percent } from "../../domain/times";
import { useWide } from "../../components/use-width";
import type { Book, LogbookOut } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "../../components/day-plot";
import { SchoolsByDay } from "./schools-by-day";
import { Section } from "./section";
import { t } from "../../words";

interface StairsProps {
  book: Book;
  logbook: LogbookOut;
}

/** The steps there were, from the bottom: the present plan's, then those it no longer has. */
export function stepsOf({ book, logbook }: StairsProps): string[] {
  const worked = new Set(book.success.map((s) => s.approximation));
  const gone = [...worked].filter((key) => !logbook.order.includes(key));
  const reached = logbook.order.filter((key) => worked.has(key));
  // One more than was worked: what comes next.
  const next = logbook.order[logbook.order.indexOf(reached.at(-1) ?? "") + 1];
  return [...reached, ...(next === undefined ? [] : [next]), ...gone];
}

/** Which step each session ended on, day by day. */
export function StairsSection(props: StairsProps & { isNarrow?: boolean }) {
  const { book, logbook, isNarrow = false } = props;
  const { landings, steps } = book;
  const keys = stepsOf(props);
  const name = (key: string) => logbook.titles[key] ?? key;
  const isWide = useWide() && !isNarrow;
  const now = landings.at(-1)?.approximation;
  const line = (x: (day: string) => number, y: (value: number) => number) =>
    landings
      .map((l, n) => {
        const at = `${x(l.date).toFixed(1)} ${y(keys.indexOf(l.approximation)).toFixed(1)}`;
        return n === 0 ? `M${at}` : `H${x(l.date).toFixed(1)}L${at}`;
      })
      .join("");
  return (
    <Section
      id="stairs"
      title={t("logbook:stairs_section.the_stairs_day_by_day")}
      value={now && <span className="font-sans text-[20px]">{name(now)}</span>}
      wide
    >
      {landings.length > 0 && (
        <DayPlot
          label={t("logbook:stairs_section.the_step_each_of_landingscount", {
            landingsCount: landings.length,
          })}
          days={landings.map((l) => l.date)}
          width={isWide ? 1000 : 420}
          left={isWide ? 180 : 130}
          worded
          height={40 + 32 * keys.length}
          lines={keys.map((key, n) => ({ at: n, name: shortened(name(key), isWide ? 28 : 19) }))}
          up={(n) => (n + 0.5) / Math.max(1, keys.length)}
        >
          {(x, y) => (
            <>
              <path d={line(x, y)} fill="none" stroke="var(--behaviour)" strokeWidth={1.4} />
              {landings.map((l) => (
                <g key={l.id}>
                  <circle
                    cx={x(l.date)}
                    cy={y(keys.indexOf(l.approximation))}
                    r={5.5}
                    fill="var(--paper)"
                    stroke="var(--behaviour)"
                    strokeWidth={1.4}
                  />
                  <circle
                    cx={x(l.date)}
                    cy={y(keys.indexOf(l.approximation))}
                    r={5 * Math.sqrt(l.share ?? 0)}
                    fill="var(--behaviour)"
                  />
                </g>
              ))}
            </>
          )}
        </DayPlot>
      )}
      <p className="text-soft">
        {t("logbook:stairs_section.a_fuller_dot_more_of")}
        {steps.days_since_last !== null &&
          t("logbook:stairs_section.last_session_days_since_last", {
            days_since_last: daysAgo(steps.days_since_last),
          })}
      </p>
      <Numbers
        caption={t("logbook:stairs_section.the_step_each_session_ended")}
        heads={[t("common:day"), t("logbook:stairs_section.step"), t("logbook:stairs_section.fit")]}
        rows={landings.map((l) => [
          shortDay(l.date),
          name(l.approximation),
          l.judged === 0
            ? "–"
            : t("logbook:stairs_section.met_of_judged", { met: l.met, judged: l.judged }),
        ])}
      />
      <SchoolsByDay logbook={logbook} isNarrow={isNarrow} />
    </Section>
  );
}

function daysAgo(days: number): string {
  if (days === 0) return t("logbook:stairs_section.today");
  return days === 1
    ? t("logbook:stairs_section.yesterday")
    : t("logbook:stairs_section.days_days_ago", { days });
}

function shortened(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}

/** Success at each step, all sessions together. */
export function SuccessSection(props: StairsProps) {
  const { book, logbook } = props;
  const name = (key: string) => logbook.titles[key] ?? key;
  const worked = stepsOf(props)
    .map((key) => book.success.find((s) => s.approximation === key))
    .filter((s) => s !== undefined);
  const history = (key: string) => book.steps.steps.find((s) => s.approximation === key);
  return (
    <Section id="success" title={t("logbook:stairs_section.what_fits_step_by_step")}>
      <ShareRows
        colour="var(--behaviour)"
        rows={worked.map((s) => ({
          key: s.approximation,
          name: name(s.approximation),
          count:
            s.judged === 0
              ? "–"
              : t("logbook:stairs_section.met_of_judged", { met: s.met, judged: s.judged }),
          share: s,
        }))}
      />
      <Numbers
        caption={t("logbook:stairs_section.success_by_step_all_sessions")}
        heads={[
          t("common:step"),
          t("logbook:stairs_section.fit"),
          t("common:could_be"),
          t("logbook:stairs_section.sessions"),
          t("logbook:stairs_section.minutes"),
          t("logbook:stairs_section.first"),
          t("logbook:stairs_section.last"),
        ]}
        rows={worked.map((s) => {
          const own = history(s.approximation);
          return [
            name(s.approximation),
            t("logbook:stairs_section.met_of_judged", { met: s.met, judged: s.judged }),
            s.low === null || s.high === null
              ? "–"
              : t("logbook:stairs_section.low_to_high", {
                  low: percent(s.low),
                  high: percent(s.high),
                }),
            own?.sessions ?? "–",
            own?.minutes.toFixed(1) ?? "–",
            own ? shortDay(own.first_day) : "–",
            own ? shortDay(own.last_day) : "–",
          ];
        })}
      />
    </Section>
  );
}
