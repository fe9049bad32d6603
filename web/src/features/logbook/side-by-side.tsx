import type { ReactNode } from "react";
import { Link } from "react-router";

import { Fault, Wait } from "../../components/states";
import { counted, latency } from "../../domain/times";
import type { LogbookOut } from "../../domain/behaviour-logbook";
import { useLogbook } from "./queries";
import { RateSection } from "./rate-section";
import { StairsSection, SuccessSection } from "./stairs-section";
import { TimingSection } from "./timing-section";
import { EaseSection, TrendSections } from "./trend-sections";
import { t } from "../../words";

/** Two animals or two plans beside each other: the same numbers, the same pictures. */
export function SideBySide({ one, otherId }: { one: LogbookOut; otherId: string }) {
  const other = useLogbook(otherId);
  if (other.error) return <Fault error={other.error} />;
  if (!other.data) return <Wait>{t("logbook:side_by_side.opening_the_other_logbook")}</Wait>;
  const both = [one, other.data];
  return (
    <>
      <h1 className="sr-only">{t("logbook:side_by_side.two_logbooks_side_by_side")}</h1>
      <InShort both={both} />
      <div className="mt-6 grid grid-cols-2 gap-x-10 max-lg:grid-cols-1">
        {both.map((logbook) => (
          <Column key={logbook.behaviour_id} logbook={logbook} />
        ))}
      </div>
    </>
  );
}

/** What each came to, one line a number; how it was stands first. */
function InShort({ both }: { both: LogbookOut[] }) {
  const rows: { words: string; said: (logbook: LogbookOut) => ReactNode }[] = [
    {
      words: t("logbook:side_by_side.signs_and_leaving_the_work"),
      said: (l) => {
        const { signs, opt_outs, filmed } = l.book.in_short;
        return t("logbook:side_by_side.signs_left_opt_outs_in", {
          signs: counted(signs, "sign"),
          opt_outs: counted(opt_outs, "time"),
          filmed,
        });
      },
    },
    {
      words: t("logbook:side_by_side.now_at"),
      said: (l) => {
        const { step } = l.book.in_short;
        return step === null ? "–" : (l.titles[step] ?? step);
      },
    },
    {
      words: t("logbook:side_by_side.fits_there_over_all_sessions"),
      said: (l) => {
        const { judged, met, low, high } = l.book.in_short;
        if (judged === 0 || low === null || high === null) return "–";
        return t("logbook:side_by_side.met_of_judged_could_be", {
          met,
          judged,
          low: Math.round(low * 100),
          high: Math.round(high * 100),
        });
      },
    },
    {
      words: t("logbook:side_by_side.sessions"),
      said: (l) => {
        const { sessions, days } = l.book.in_short;
        return t("logbook:side_by_side.sessions_on_days", { sessions, days: counted(days, "day") });
      },
    },
    {
      words: t("logbook:side_by_side.work_in_all"),
      said: (l) => {
        const { minutes, reps } = l.book.in_short;
        return t("logbook:side_by_side.minutes_min_reps", {
          minutes: minutes.toFixed(0),
          reps: counted(reps, "rep"),
        });
      },
    },
    {
      words: t("logbook:side_by_side.rewards_a_minute"),
      said: (l) => {
        const { value, low, high } = l.book.in_short.per_min;
        if (value === null || low === null || high === null) return "–";
        return t("logbook:side_by_side.value_could_be_low_to", {
          value: value.toFixed(1),
          low: low.toFixed(1),
          high: high.toFixed(1),
        });
      },
    },
    {
      words: t("logbook:side_by_side.growth_of_that"),
      said: (l) => {
        const { per_week: week } = l.book.in_short;
        return week === null ? "–" : `×${week.toFixed(2)}`;
      },
    },
    {
      words: t("logbook:side_by_side.marker_last_time"),
      said: (l) => latencyWords(l.book.in_short.marker_s),
    },
    {
      words: t("logbook:side_by_side.reward_after_it_last_time"),
      said: (l) => latencyWords(l.book.in_short.reward_s),
    },
  ];
  return (
    <div className="mt-5 overflow-x-auto">
      <table className="w-full text-left">
        <caption className="sr-only">{t("logbook:side_by_side.both_in_short")}</caption>
        <thead>
          <tr className="border-b border-ink align-bottom">
            <td />
            {both.map((logbook) => (
              <th key={logbook.behaviour_id} scope="col" className="w-[38%] pr-4 pb-1">
                <span className="block text-[13px] font-normal text-soft">{logbook.learner}</span>
                <Link
                  to={`/logbook/${logbook.behaviour_id}`}
                  className="text-[19px] font-semibold hover:underline"
                >
                  {logbook.behaviour}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ words, said }) => (
            <tr key={words} className="border-b border-hair">
              <th scope="row" className="py-1.5 pr-4 font-normal text-soft">
                {words}
              </th>
              {both.map((logbook) => (
                <td key={logbook.behaviour_id} className="pr-4">
                  {said(logbook)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function latencyWords(seconds: number | null): string {
  return seconds === null ? "–" : latency(seconds, 2);
}

function Column({ logbook }: { logbook: LogbookOut }) {
  const book = logbook.book;
  const fromPlan = book.instant === "plan";
  return (
    <div className="min-w-0">
      <h2 className="pb-2 text-[16px] font-semibold">
        {logbook.learner} · {logbook.behaviour}
      </h2>
      <EaseSection book={book} />
      <StairsSection book={book} logbook={logbook} isNarrow />
      <SuccessSection book={book} logbook={logbook} />
      <RateSection book={book} logbook={logbook} />
      <TimingSection
        id="marker"
        title={
          fromPlan
            ? t("logbook:side_by_side.marker_from_the_plans_instant")
            : t("logbook:side_by_side.marker_from_the_onset")
        }
        of={t("logbook:side_by_side.middle_s")}
        timings={fromPlan ? book.timing_error_s : book.marker_latency_s}
        logbook={logbook}
        colour="var(--marker)"
      />
      <TrendSections book={book} logbook={logbook} />
    </div>
  );
}
