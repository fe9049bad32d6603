import { Numbers } from "../../components/numbers-behind";
import { latency } from "../../domain/times";
import type { LogbookOut, SessionTiming } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "./day-plot";
import { Section } from "./section";

interface TimingProps {
  id: string;
  title: string;
  /** What the middle is called in the numbers. */
  of: string;
  timings: SessionTiming[];
  logbook: LogbookOut;
  colour: string;
}

/** The hand over the weeks: each session's middle with the middle half of its reps. */
export function TimingSection({ id, title, of, timings, logbook, colour }: TimingProps) {
  if (timings.length === 0) return null;
  const trainers = [...new Set(timings.map((t) => trainerOf(logbook, t.id)))];
  const top = Math.max(0.5, ...timings.map((t) => t.skill.q3)) * 1.08;
  const bottom = Math.min(0, ...timings.map((t) => t.skill.q1));
  const step = top - bottom > 3 ? 1 : top - bottom > 1.2 ? 0.5 : 0.2;
  const lines = [];
  for (let at = Math.ceil(bottom / step) * step; at < top; at += step) {
    lines.push({ at, name: at === 0 ? "0" : `${at.toFixed(1)} s` });
  }
  const last = timings.at(-1)?.skill;
  return (
    <Section id={id} title={title} value={last && latency(last.median, 2)}>
      <DayPlot
        label={`${title}: the middle of ${timings.length} sessions`}
        days={timings.map((t) => t.skill.date)}
        left={46}
        lines={lines}
        up={(value) => (value - bottom) / (top - bottom)}
      >
        {(x, y) => (
          <>
            {timings.map(({ id: session, skill }) => {
              const own = trainers.indexOf(trainerOf(logbook, session));
              return (
                <g key={session}>
                  <path
                    d={`M${x(skill.date)} ${y(skill.q1)}V${y(skill.q3)}`}
                    stroke={colour}
                    strokeWidth={5}
                    opacity={0.22}
                  />
                  {/* The second hand's dots are filled: told apart without colour. */}
                  <circle
                    cx={x(skill.date)}
                    cy={y(skill.median)}
                    r={4}
                    fill={own === 1 ? colour : "var(--paper)"}
                    stroke={colour}
                    strokeWidth={1.7}
                    strokeDasharray={own > 1 ? "2 2" : undefined}
                  />
                </g>
              );
            })}
          </>
        )}
      </DayPlot>
      <p className="text-soft">
        The bar holds the middle half of a session's reps.
        {trainers.length > 1 && (
          <>
            {" "}
            Open rings: {trainers[0] || "no name"}; filled: {trainers[1] || "no name"}
            {trainers.length > 2 && "; dashed: others"}.
          </>
        )}
      </p>
      <Numbers
        caption={`${title}, by session`}
        heads={["Day", "trainer", of, "could be", "middle half", "reps"]}
        rows={timings.map(({ id: session, skill }) => [
          shortDay(skill.date),
          trainerOf(logbook, session) || "–",
          skill.median.toFixed(3),
          skill.median_low === null || skill.median_high === null
            ? "–"
            : `${skill.median_low.toFixed(3)} to ${skill.median_high.toFixed(3)}`,
          `${skill.q1.toFixed(3)} to ${skill.q3.toFixed(3)}`,
          skill.n,
        ])}
      />
    </Section>
  );
}

function trainerOf(logbook: LogbookOut, id: string): string {
  return logbook.sessions.find((s) => s.session_id === id)?.trainer ?? "";
}
