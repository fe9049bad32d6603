import type { ReactNode } from "react";
import { Link } from "react-router";

import { Fault, Wait } from "../../components/states";
import { counted, latency } from "../../domain/times";
import type { Book, LogbookOut } from "../../domain/behaviour-logbook";
import { useLogbook } from "./queries";
import { RateSection } from "./rate-section";
import { StairsSection, SuccessSection } from "./stairs-section";
import { TimingSection } from "./timing-section";
import { EaseSection, TrendSections } from "./trend-sections";

/** Two animals or two plans beside each other: the same numbers, the same pictures. */
export function SideBySide({ one, otherId }: { one: LogbookOut; otherId: string }) {
  const other = useLogbook(otherId);
  if (other.error) return <Fault error={other.error} />;
  if (!other.data) return <Wait>Opening the other logbook</Wait>;
  const both = [one, other.data];
  return (
    <>
      <h1 className="sr-only">Two logbooks side by side</h1>
      <InShort both={both} />
      <div className="mt-6 grid grid-cols-2 gap-x-10 max-lg:grid-cols-1">
        {both.map((logbook) => (
          <Column key={logbook.behaviour_id} logbook={logbook} />
        ))}
      </div>
    </>
  );
}

function bookOf(logbook: LogbookOut): Book {
  return logbook.book;
}

/** What each came to, one line a number; how it was stands first. */
function InShort({ both }: { both: LogbookOut[] }) {
  const rows: { words: string; said: (logbook: LogbookOut) => ReactNode }[] = [
    {
      words: "signs, and leaving the work",
      said: (l) => {
        const { signs, opt_outs, filmed } = bookOf(l).in_short;
        return `${counted(signs, "sign")}, left ${counted(opt_outs, "time")}, in ${filmed} filmed`;
      },
    },
    {
      words: "now at",
      said: (l) => {
        const { step } = bookOf(l).in_short;
        return step === null ? "–" : (l.titles[step] ?? step);
      },
    },
    {
      words: "fits there, over all sessions",
      said: (l) => {
        const { judged, met, low, high } = bookOf(l).in_short;
        if (judged === 0 || low === null || high === null) return "–";
        return `${met} of ${judged} (could be ${Math.round(low * 100)} to ${Math.round(high * 100)} %)`;
      },
    },
    {
      words: "sessions",
      said: (l) => {
        const { sessions, days } = bookOf(l).in_short;
        return `${sessions} on ${counted(days, "day")}`;
      },
    },
    {
      words: "work in all",
      said: (l) => {
        const { minutes, reps } = bookOf(l).in_short;
        return `${minutes.toFixed(0)} min, ${counted(reps, "rep")}`;
      },
    },
    {
      words: "rewards a minute",
      said: (l) => {
        const { value, low, high } = bookOf(l).in_short.per_min;
        if (value === null || low === null || high === null) return "–";
        return `${value.toFixed(1)} (could be ${low.toFixed(1)} to ${high.toFixed(1)})`;
      },
    },
    {
      words: "growth of that a week",
      said: (l) => {
        const { per_week: week } = bookOf(l).in_short;
        return week === null ? "–" : `×${week.toFixed(2)}`;
      },
    },
    {
      words: "marker, last time",
      said: (l) => said(bookOf(l).in_short.marker_s),
    },
    { words: "reward after it, last time", said: (l) => said(bookOf(l).in_short.reward_s) },
  ];
  return (
    <div className="mt-5 overflow-x-auto">
      <table className="w-full text-left">
        <caption className="sr-only">Both in short</caption>
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

function said(seconds: number | null): string {
  return seconds === null ? "–" : latency(seconds, 2);
}

function Column({ logbook }: { logbook: LogbookOut }) {
  const book = bookOf(logbook);
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
        title={fromPlan ? "Marker, from the plan's instant" : "Marker, from the onset"}
        of="middle, s"
        timings={fromPlan ? book.timing_error_s : book.marker_latency_s}
        logbook={logbook}
        colour="var(--marker)"
      />
      <TrendSections book={book} logbook={logbook} />
    </div>
  );
}
