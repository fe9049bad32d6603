import { counted, percent } from "../../domain/times";
import { behind } from "./behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";

/** How many reps fit the criterion, and whether the marker went to those. */
export function FitPart({ findings, session }: PartOf) {
  const { success, fidelity, counts } = findings;
  if (success.share === null || success.low === null || success.high === null) {
    return (
      <Part id="success" session={session} about="what fits" title="Fits the criterion" value="–">
        <p className="text-soft">
          No rep is judged yet. At the bench, f says that the current rep fits; f again, that it
          does not yet.
        </p>
      </Part>
    );
  }
  const x = (share: number) => 8 + share * 624;
  const { fits } = findings.certainty;
  const clusters = fits.lag1 !== null && fits.effective < success.judged - 0.5;
  const [low, high] = [fits.low ?? success.low, fits.high ?? success.high];
  return (
    <Part
      id="success"
      session={session}
      about="what fits"
      title="Fits the criterion"
      value={<Main value={`${success.met} of ${success.judged}`} behind={behind("fits")} />}
    >
      <svg viewBox="0 0 640 34" className="w-full" aria-hidden>
        <path d="M8 16H632" stroke="var(--line)" />
        <path
          d={`M${x(low)} 16H${x(high)}`}
          stroke="var(--behaviour)"
          strokeWidth={6}
          opacity={0.35}
        />
        <circle cx={x(success.share)} cy={16} r={6} fill="var(--behaviour)" />
      </svg>
      <p>
        {counted(success.judged, "judged rep")} agree with a true share anywhere from {percent(low)}{" "}
        to {percent(high)} (95 %). Longest run: {success.longest_run}.
      </p>
      {clusters && (
        <p className="text-soft">
          Fits and misses come in clusters: these reps tell as much as{" "}
          {Math.max(1, Math.round(fits.effective))} that had nothing to do with each other.
        </p>
      )}
      <p className="mt-1 flex flex-wrap gap-x-5">
        <Count n={success.judged - success.met} words="not yet" behind={behind("not_yet")} />
        {counts.attempts > success.judged && (
          <Count
            n={counts.attempts - success.judged}
            words="not judged"
            behind={behind("unjudged")}
          />
        )}
      </p>
      {fidelity.share !== null && (
        <p className="mt-1 text-soft">
          Your marker went to the right reps on {percent(fidelity.share)}: {fidelity.met_unmarked}{" "}
          that fit went unmarked, {fidelity.unmet_marked} that did not were marked.
        </p>
      )}
    </Part>
  );
}
