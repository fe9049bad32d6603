import { chance, latency } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";
import { roundLines, SessionPlot } from "./session-plot";

/** How soon the animal came back after each reward, and whether it grew slower. */
export function PausePart({ findings, session, titleOf }: PartOf) {
  const summary = findings.pause_s;
  if (summary.n < 2 || summary.median === null) return null;
  const reps = findings.reps.filter((r) => r.pause_s !== null);
  const top = Math.max(2, ...reps.map((r) => r.pause_s ?? 0)) * 1.1;
  const { slope_per_min: slope, p } = summary.trend;
  return (
    <Part
      id="pause_s"
      session={session}
      about="the pauses"
      title="Came back after a reward, in"
      value={<Main value={`${summary.median.toFixed(1)} s`} behind={behind("paused")} />}
    >
      <SessionPlot
        findings={findings}
        label={`${summary.n} pauses through the session, seconds`}
        top={top}
        lines={roundLines(top)}
        titleOf={titleOf}
      >
        {(x, y) => (
          <>
            {reps.map((r) => (
              <circle
                key={r.id}
                cx={x(r.onset_s)}
                cy={y(r.pause_s ?? 0)}
                r={3.6}
                fill="var(--behaviour)"
                opacity={0.75}
              />
            ))}
          </>
        )}
      </SessionPlot>
      <p>
        {slope === null || p === null
          ? "Too few to say whether they grew."
          : p >= 0.05
            ? `No trend beyond chance: as steep or steeper in ${chance(p)} of sessions without one.`
            : slope > 0
              ? `They grew by ${latency(slope, 1)} a minute (by chance in ${chance(p)}): a shorter session, or better pay.`
              : `They shrank by ${latency(slope, 1)} a minute (by chance in ${chance(p)}): it wants to work.`}
      </p>
      <Surety value={findings.sources.pause_s} />
      <Numbers
        caption="Pauses by rep"
        heads={["Rep", "begins, s", "after the reward, s"]}
        rows={findings.reps.flatMap((r, n) =>
          r.pause_s === null ? [] : [[n + 1, r.onset_s.toFixed(3), r.pause_s.toFixed(3)]],
        )}
      />
    </Part>
  );
}
