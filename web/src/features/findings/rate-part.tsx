import { chance, counted, shortClock } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Main, Part } from "./part";
import type { PartOf } from "./parts";
import { endOf, roundLines, SessionPlot } from "./session-plot";

/** Pay through the session: how often, and when none came. */
export function RatePart({ findings, session, titleOf }: PartOf) {
  const rate = findings.rates.reinforcement_per_min;
  const curve = findings.rate_curve;
  const { pay, dry_by_chance: byChance } = findings.certainty;
  const top = Math.max(8, ...curve.map((p) => p.per_min)) * 1.1;
  return (
    <Part
      id="rates"
      session={session}
      about="the rate"
      title="Rewarded, a minute"
      value={<Main value={rate.value?.toFixed(1) ?? null} behind={behind("rewarded")} />}
    >
      {curve.length === 0 ? (
        <p className="text-soft">The course of the rate shows from ten seconds of training on.</p>
      ) : (
        <SessionPlot
          findings={findings}
          label="Rewards a minute through the session, over the last half minute each"
          top={top}
          lines={roundLines(top)}
          titleOf={titleOf}
        >
          {(x, y) => {
            const line = curve.map((p) => `${x(p.t_s).toFixed(1)} ${y(p.per_min).toFixed(1)}`);
            const d = line.join("L");
            return (
              <>
                <path
                  d={`M${d}L${x(curve.at(-1)?.t_s ?? 0)} ${y(0)}L${x(curve[0]?.t_s ?? 0)} ${y(0)}Z`}
                  fill="var(--reward)"
                  opacity={0.13}
                />
                <path d={`M${d}`} fill="none" stroke="var(--reward)" strokeWidth={1.6} />
              </>
            );
          }}
        </SessionPlot>
      )}
      <p>
        {counted(rate.count, "reinforcement")} in {shortClock(findings.training_time_s)}
        {pay.low !== null && pay.high !== null && (
          <>
            : taught like this, the true middle could be {pay.low.toFixed(1)} to{" "}
            {pay.high.toFixed(1)} a minute (95 %,{" "}
            {pay.way === "gaps"
              ? "from how evenly the rewards came"
              : "as if they came by chance: too few to see how evenly"}
            ).
          </>
        )}
      </p>
      {findings.dry_spells.longest_s !== null && (
        <p className="text-soft">
          Longest wait for a reward: {Math.round(findings.dry_spells.longest_s)} s
          {byChance !== null &&
            `; rewards scattered by chance at this rate would leave such a wait in ${chance(byChance)} of sessions`}
          .
        </p>
      )}
      {curve.length > 0 && (
        <Numbers
          caption="Rewards a minute through the session"
          heads={["At, s", "a minute"]}
          rows={curve.map((p) => [p.t_s.toFixed(1), p.per_min.toFixed(2)])}
        />
      )}
    </Part>
  );
}

/** Every reward counted up: a steep line is quick pay, a level one none. */
export function CumulativePart({ findings, session, titleOf }: PartOf) {
  const steps = findings.cumulative;
  const last = steps.at(-1);
  if (!last || steps.length < 2) return null;
  const top = last.count * 1.08;
  return (
    <Part
      id="cumulative"
      session={session}
      about="the cumulative record"
      title="Rewards counted up"
      value={<Main value={String(last.count)} behind={behind("rewarded")} />}
    >
      <SessionPlot
        findings={findings}
        label={`${counted(last.count, "reinforcement")} counted up through the session`}
        top={top}
        lines={roundLines(top)}
        titleOf={titleOf}
      >
        {(x, y) => {
          const stairs = steps.map((s) => `H${x(s.t_s).toFixed(1)}V${y(s.count).toFixed(1)}`);
          return (
            <path
              d={`M${x(0)} ${y(0)}${stairs.join("")}H${x(endOf(findings))}`}
              fill="none"
              stroke="var(--reward)"
              strokeWidth={1.6}
            />
          );
        }}
      </SessionPlot>
      <p className="text-soft">The steeper, the quicker the pay; a level stretch is a dry one.</p>
      <Numbers
        caption="Reinforcements counted up"
        heads={["Reinforcement", "at, s", "training time, s"]}
        rows={steps.map((s) => [s.count, s.t_s.toFixed(3), s.training_s.toFixed(3)])}
      />
    </Part>
  );
}
