import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";

/** Sent away for the next rep: how fast it comes back. */
export function ReturnsPart({ findings, session }: PartOf) {
  const { returns } = findings;
  if (returns.n === 0) return null;
  const { slope_per_min: slope, p } = returns.trend;
  return (
    <Part
      id="returns"
      session={session}
      about="coming back"
      title="Sent away, and back"
      value={
        <Main
          value={returns.km_median_s === null ? null : latency(returns.km_median_s, 1).slice(1)}
          behind={behind("came:return:back")}
        />
      }
    >
      <p>
        Sent away {counted(returns.n, "time")};{" "}
        <Count
          n={returns.back_s.n}
          words="came back by itself"
          behind={behind("came:return:back")}
        />
        {returns.lost > 0 && (
          <>
            , <Count n={returns.lost} words="did not" behind={behind("came:return:lost")} fault />
          </>
        )}
        {returns.cut > 0 && (
          <>
            ,{" "}
            <Count
              n={returns.cut}
              words="could not be waited for"
              behind={behind("came:return:cut")}
            />
          </>
        )}
        .{" "}
        {returns.km_median_s === null
          ? "Fewer than half were seen to come back."
          : "Half were back within the time above, those not seen to the end counted as far as they go."}
      </p>
      {slope !== null && p !== null && p < 0.05 && (
        <p className="mt-1 text-marker">
          {slope > 0
            ? "It came back more slowly as the session went on: shorter, or a better reward."
            : "It came back faster as the session went on."}
        </p>
      )}
      <Numbers
        caption="Each time it was sent away"
        heads={["at, s", "what came of it", "after, s"]}
        rows={findings.moments.flatMap((m) =>
          "role" in m && m.role === "return"
            ? [[m.t_s.toFixed(3), m.outcome, m.s?.toFixed(3) ?? ""]]
            : [],
        )}
      />
    </Part>
  );
}
