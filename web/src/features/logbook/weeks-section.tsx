import { Numbers } from "../../components/numbers-behind";
import { counted } from "../../domain/times";
import type { Book, LogbookOut } from "../../domain/behaviour-logbook";
import { shortDay } from "../../components/day-plot";
import { Section } from "./section";
import { t } from "../../words";

/** How much was done each week, against what the plan's doses allow. */
export function WeeksSection({ book, logbook }: { book: Book; logbook: LogbookOut }) {
  const { weeks } = book;
  const top = Math.max(1, ...weeks.map((w) => Math.max(w.minutes, w.minutes_cap)));
  const over = book.over_cap;
  const last = weeks.at(-1);
  const cap = logbook.session_cap_s;
  return (
    <Section
      id="weeks"
      title={t("logbook:weeks_section.minutes_and_reps_a_week")}
      value={last && t("logbook:weeks_section.minutes_min", { minutes: last.minutes.toFixed(1) })}
    >
      <ul>
        {weeks.map((week) => (
          <li
            key={week.monday}
            className="grid grid-cols-[4rem_1fr_11rem] items-center gap-3 border-t border-hair py-1 first:border-0"
          >
            <span className="num text-soft">{shortDay(week.monday)}</span>
            <svg viewBox="0 0 300 18" className="h-4 w-full" preserveAspectRatio="none" aria-hidden>
              <rect
                width={(300 * week.minutes) / top}
                y={3}
                height={12}
                fill="var(--behaviour)"
                opacity={0.5}
              />
              {week.sessions > 0 && (
                <path
                  d={`M${(300 * week.minutes_cap) / top - 1} 0v18`}
                  stroke="var(--ink)"
                  strokeWidth={2}
                  strokeDasharray="3 2"
                />
              )}
            </svg>
            <span className="num text-right whitespace-nowrap">
              {t("logbook:weeks_section.minutes_min_reps", {
                minutes: week.minutes.toFixed(1),
                reps: counted(week.reps, "rep"),
              })}
            </span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-soft">
        {t("logbook:weeks_section.the_dashed_line_as_much", {
          which:
            cap === null
              ? t("logbook:weeks_section.the_common_practice_of_5")
              : t("logbook:weeks_section.the_plans_cap_min_a", { cap: (cap / 60).toFixed(1) }),
          which2:
            over === 0
              ? t("logbook:weeks_section.no_session_went_beyond")
              : t("logbook:weeks_section.over_went_beyond", { over: counted(over, "session") }),
        })}
      </p>
      <Numbers
        caption={t("logbook:weeks_section.minutes_and_reps_by_week")}
        heads={[
          t("logbook:weeks_section.week_from"),
          t("logbook:weeks_section.sessions"),
          t("logbook:weeks_section.minutes"),
          t("logbook:weeks_section.at_most"),
          t("logbook:weeks_section.reps"),
          t("logbook:weeks_section.at_most"),
          t("logbook:weeks_section.too_long"),
        ]}
        rows={weeks.map((w) => [
          shortDay(w.monday),
          w.sessions,
          w.minutes.toFixed(2),
          w.minutes_cap.toFixed(2),
          w.reps,
          w.reps_cap ?? "–",
          w.over_cap,
        ])}
      />
    </Section>
  );
}
