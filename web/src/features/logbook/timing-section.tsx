import { SpreadDot } from "../../components/plot-parts";
import { Numbers } from "../../components/numbers-behind";
import { latency } from "../../domain/times";
import type { LogbookOut, SessionTiming } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "../../components/day-plot";
import { Section } from "./section";
import { t } from "../../words";

interface TimingProps {
  id: string;
  title: string;
  /** What the middle is called in the numbers. */
  of: string;
  timings: SessionTiming[];
  logbook: LogbookOut;
  colour: string;
}

/** A session's timing where it has a day and a middle half. */
function told({ id, skill }: SessionTiming) {
  const { date, median, q1, q3 } = skill;
  if (date === null || median === null || q1 === null || q3 === null) return [];
  return [{ ...skill, id, date, median, q1, q3 }];
}

/** The hand over the weeks: each session's middle with the middle half of its reps. */
export function TimingSection({ id, title, of, logbook, colour, ...props }: TimingProps) {
  const timings = props.timings.flatMap(told);
  if (timings.length === 0) return null;
  const trainers = [...new Set(timings.map((t) => trainerOf(logbook, t.id)))];
  const top = Math.max(0.5, ...timings.map((t) => t.q3)) * 1.08;
  const bottom = Math.min(0, ...timings.map((t) => t.q1));
  const step = top - bottom > 3 ? 1 : top - bottom > 1.2 ? 0.5 : 0.2;
  const lines = [];
  for (let at = Math.ceil(bottom / step) * step; at < top; at += step) {
    lines.push({ at, name: at === 0 ? "0" : `${at.toFixed(1)} s` });
  }
  const last = timings.at(-1);
  return (
    <Section id={id} title={title} value={last && latency(last.median, 2)}>
      <DayPlot
        label={t("logbook:timing_section.title_the_middle_of_timingscount", {
          title,
          timingsCount: timings.length,
        })}
        days={timings.map((t) => t.date)}
        left={46}
        lines={lines}
        up={(value) => (value - bottom) / (top - bottom)}
      >
        {(x, y) => (
          <>
            {timings.map((timing) => {
              const own = trainers.indexOf(trainerOf(logbook, timing.id));
              return (
                // The second hand's dots are filled: told apart without colour.
                <SpreadDot
                  key={timing.id}
                  x={x(timing.date)}
                  y={y(timing.median)}
                  bar={[y(timing.q1), y(timing.q3)]}
                  colour={colour}
                  fill={own === 1 ? colour : "var(--paper)"}
                  dash={own > 1 ? "2 2" : undefined}
                />
              );
            })}
          </>
        )}
      </DayPlot>
      <p className="text-soft">
        {t("logbook:timing_section.the_bar_holds_the_middle")}
        {trainers.length > 1 && (
          <>
            {" "}
            {t("logbook:timing_section.open_rings_trainers_filled_trainers2", {
              trainers: trainers[0] || t("logbook:timing_section.no_name"),
              trainers2: trainers[1] || t("logbook:timing_section.no_name"),
            })}
            {trainers.length > 2 && t("logbook:timing_section.dashed_others")}.
          </>
        )}
      </p>
      <Numbers
        caption={t("logbook:timing_section.title_by_session", { title })}
        heads={[
          t("common:day"),
          t("logbook:timing_section.trainer"),
          of,
          t("common:could_be"),
          t("logbook:timing_section.middle_half"),
          t("logbook:timing_section.reps"),
        ]}
        rows={timings.map((timing) => [
          shortDay(timing.date),
          trainerOf(logbook, timing.id) || "–",
          timing.median.toFixed(3),
          timing.median_low === null || timing.median_high === null
            ? "–"
            : t("logbook:timing_section.median_low_to_median_high", {
                median_low: timing.median_low.toFixed(3),
                median_high: timing.median_high.toFixed(3),
              }),
          t("logbook:timing_section.q1_to_q3", {
            q1: timing.q1.toFixed(3),
            q3: timing.q3.toFixed(3),
          }),
          timing.n,
        ])}
      />
    </Section>
  );
}

function trainerOf(logbook: LogbookOut, id: string): string {
  return logbook.sessions.find((s) => s.session_id === id)?.trainer ?? "";
}
