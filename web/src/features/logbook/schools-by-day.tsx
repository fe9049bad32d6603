import { Numbers } from "../../components/numbers-behind";
import { ALL_SCHOOLS, DECISIONS, SCHOOLS, type School } from "../../api/judgement";
import { useWide } from "../../components/use-width";
import type { LogbookOut } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "./day-plot";

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
        What each school would have done
      </summary>
      <DayPlot
        label={`What each school would have said after ${sessions.length} sessions`}
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
      <p className="text-[13px] text-soft">
        A point up: raise. A point down: a step back. A dot: hold.
      </p>
      <Numbers
        caption="What each school would have said"
        heads={["Day", ...ALL_SCHOOLS.map((school) => SCHOOLS[school])]}
        rows={sessions.map((session) => [
          shortDay(session.date ?? ""),
          ...ALL_SCHOOLS.map((school) => DECISIONS[session.schools[school] ?? ""] ?? "–"),
        ])}
      />
    </details>
  );
}

const SHORT: Record<School, string> = {
  run: "a run",
  share: "a share",
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
  const name = (key: string | null) => (key === null ? "no step" : (logbook.titles[key] ?? key));
  return (
    <section aria-labelledby="differently" className="border-t border-ink pt-3 pb-6">
      <h2 id="differently" className="text-[16px] font-semibold">
        You saw it differently {disagreements.length}{" "}
        {disagreements.length === 1 ? "time" : "times"}
      </h2>
      <ul>
        {disagreements.map((one) => (
          <li key={one.session_id} className="border-t border-hair py-1.5 first:border-0">
            {one.date && <b>{shortDay(one.date)}</b>} {one.said}{" "}
            <span className="text-soft">
              {one.next_judged === null
                ? "No session since."
                : `The next session worked at “${name(one.next_step)}”: ${
                    one.next_judged === 0
                      ? "none judged"
                      : `${one.next_met} of ${one.next_judged} fit`
                  }.`}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
