import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";

/** What was done to the animal: first the touch, then the food, and what it cost. */
export function ExposuresPart({ findings, session }: PartOf) {
  const labels = Object.entries(findings.exposures);
  if (labels.length === 0) return null;
  return (
    <Part
      id="exposures"
      session={session}
      about="touch and food"
      title="First the touch, then the food"
    >
      {labels.map(([label, touched]) => {
        const signs = ["1", "2", "3"].reduce((all, level) => all + (touched.signs[level] ?? 0), 0);
        return (
          <div key={label} className="mb-2">
            <p className="flex justify-between gap-4">
              <span>{label}</span>
              <span className="num">
                <Main
                  value={`${touched.paid.count} of ${touched.paid.of}`}
                  behind={behind("came:exposure")}
                />
              </span>
            </p>
            <p className="text-soft">
              paid
              {touched.latency_s.median !== null &&
                `, half within ${latency(touched.latency_s.median, 1).slice(1)} of its beginning`}
              .
            </p>
            {touched.food_first > 0 && (
              <p>
                <Count
                  n={touched.food_first}
                  words="time food came first"
                  behind={behind("came:food_first")}
                  fault
                />
                : then food announces the touch, instead of the touch announcing food.
              </p>
            )}
            {(signs > 0 || touched.opt_outs > 0) && (
              <p className="text-marker">
                Within ten seconds after it: {counted(signs, "sign")}, left the work{" "}
                {counted(touched.opt_outs, "time")}.
              </p>
            )}
          </div>
        );
      })}
    </Part>
  );
}
