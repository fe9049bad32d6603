import { counted } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";

/** Did it stay until it was let go, and how often was it paid in place? */
export function StaysPart({ findings, session, titleOf }: PartOf) {
  const steps = Object.entries(findings.stays);
  if (steps.length === 0) return null;
  return (
    <Part id="stays" session={session} about="staying" title="Staying until let go">
      {steps.map(([key, stay]) => (
        <div key={key} className="mb-2">
          <p className="flex justify-between gap-4">
            <span>{titleOf(key || null)}</span>
            <span className="num">
              <Main value={`${stay.kept.count} of ${stay.kept.of}`} behind={behind("stay:kept")} />
            </span>
          </p>
          <p className="text-soft">
            stayed until let go
            {stay.left_early > 0 && (
              <>
                ;{" "}
                <Count
                  n={stay.left_early}
                  words="left before"
                  behind={behind("stay:left_early")}
                  fault
                />
              </>
            )}
            {stay.open > 0 && `; of ${counted(stay.open, "rep")} the end is not coded`}
            {stay.pays_per_rep.mean !== null && stay.pays_per_rep.max !== null && (
              <>
                ; paid {stay.pays_per_rep.mean.toFixed(1)} times in place, at most{" "}
                <Count
                  n={stay.pays_per_rep.max}
                  words={stay.pays_per_rep.max === 1 ? "time" : "times"}
                  behind={behind(`paid_times:${stay.pays_per_rep.max}`)}
                />
              </>
            )}
            {stay.held_s.median !== null && (
              <>; half lasted {stay.held_s.median.toFixed(1)} s or more</>
            )}
            .
          </p>
        </div>
      ))}
      {findings.pay_gap_s.median !== null && (
        <p className="text-soft">
          Between two pays of one rep: {findings.pay_gap_s.median.toFixed(1)} s in the middle of{" "}
          {counted(findings.pay_gap_s.n, "gap")}
          {findings.pay_gap_s.max !== null && `, ${findings.pay_gap_s.max.toFixed(1)} s at most`}.
        </p>
      )}
      <Numbers
        caption="Each stay"
        heads={["Rep", "step", "stayed", "pays"]}
        rows={findings.reps.flatMap((r, n) =>
          r.stay === null
            ? []
            : [
                [
                  n + 1,
                  titleOf(r.approximation),
                  r.stay === "kept" ? "until let go" : "left before",
                  r.pays,
                ],
              ],
        )}
      />
    </Part>
  );
}
