import { Numbers } from "../../components/numbers-behind";
import { ALL_SCHOOLS, DECISIONS, SCHOOLS, type School } from "../../api/judgement";
import { useWide } from "../../components/use-width";
import type { LogbookOut } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "../../components/day-plot";
import { counted } from "../../domain/times";
import { t } from "../../words";

/** What each school would have said after each session: a row of small marks a school. */
export function SchoolsByDay({ logbook, isNarrow }: { logbook: LogbookOut; isNarrow: boolean }) {
  const isWide = useWide() && !isNarrow;
  const sessions = logbook.sessions
    .filter((s) => s.date !== null && Object.keys(s.schools).length > 0)
    .toReversed();
  if (sessions.length === 0) return null;
  const rows = ALL_SCHOOLS.toReversed();
  return (
    <details className="no-print">
      <summary className="cursor-pointer text-[13px] text-soft underline decoration-line underline-offset-3">
        {t("logbook:schools_by_day.what_each_school_would_have")}
      </summary>
      <DayPlot
        label={t("logbook:schools_by_day.what_each_school_would_have_2", {
          sessionsCount: sessions.length,
        })}
        days={sessions.map((s) => s.date ?? "")}
        width={isWide ? 1000 : 420}
        left={isWide ? 180 : 130}
        worded
        height={40 + 22 * rows.length}
        lines={rows.map((school, n) => ({ at: n, name: SHORT[school] }))}
        up={(n) => (n + 0.5) / rows.length}
      >
        {(x, y) =>
          sessions.map((session) =>
            rows.map((school, n) => (
              <Mark
                key={`${session.session_id}${school}`}
                decision={session.schools[school] ?? "hold"}
                x={x(session.date ?? "")}
                y={y(n)}
              />
            )),
          )
        }
      </DayPlot>
      <p className="text-[13px] text-soft">{t("logbook:schools_by_day.a_point_up_raise_a")}</p>
      <Numbers
        caption={t("logbook:schools_by_day.what_each_school_would_have_3")}
        heads={[t("common:day"), ...ALL_SCHOOLS.map((school) => SCHOOLS[school])]}
        rows={sessions.map((session) => [
          shortDay(session.date ?? ""),
          ...ALL_SCHOOLS.map((school) => DECISIONS[session.schools[school] ?? ""] ?? "–"),
        ])}
      />
    </details>
  );
}

const SHORT: Record<School, string> = {
  run: t("logbook:schools_by_day.a_run"),
  share: t("logbook:schools_by_day.a_share"),
  block: "blocks",
  percentile: "moving",
  comfort: "ease",
};

function Mark({ decision, x, y }: { decision: string; x: number; y: number }) {
  if (decision === "raise") {
    return <path d={`M${x - 4} ${y + 3}h8l-4 -7Z`} fill="var(--behaviour)" />;
  }
  if (decision === "lower") {
    return <path d={`M${x - 4} ${y - 3}h8l-4 7Z`} fill="var(--marker)" />;
  }
  return <circle cx={x} cy={y} r={1.6} fill="var(--soft)" />;
}

/** How often the trainer saw it differently, and what the next session came to. */
export function Disagreements({ logbook }: { logbook: LogbookOut }) {
  const { disagreements } = logbook;
  if (disagreements.length === 0) return null;
  const name = (key: string | null) =>
    key === null ? t("logbook:schools_by_day.no_step") : (logbook.titles[key] ?? key);
  return (
    <section aria-labelledby="differently" className="border-t border-ink pt-3 pb-6">
      <h2 id="differently" className="text-[16px] font-semibold">
        {t("logbook:schools_by_day.you_saw_it_differently_disagreementscount", {
          times: counted(disagreements.length, "time"),
        })}
      </h2>
      <ul>
        {disagreements.map((one) => (
          <li key={one.session_id} className="border-t border-hair py-1.5 first:border-0">
            {one.date && <b>{shortDay(one.date)}</b>} {one.said}{" "}
            <span className="text-soft">
              {one.next_judged === null
                ? t("logbook:schools_by_day.no_session_since")
                : t("logbook:schools_by_day.the_next_session_worked_at", {
                    next_step: name(one.next_step),
                    which:
                      one.next_judged === 0
                        ? t("logbook:schools_by_day.none_judged")
                        : t("logbook:session_list.met_of_judged_fit", {
                            met: one.next_met,
                            judged: one.next_judged,
                          }),
                  })}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
