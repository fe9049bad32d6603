import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** What was done to the animal: first the touch, then the food, and what it cost. */
export function ExposuresPart({ findings, session }: PartOf) {
  const labels = Object.entries(findings.exposures);
  if (labels.length === 0) return null;
  return (
    <Part
      id="exposures"
      session={session}
      about={t("findings:exposures_part.touch_and_food")}
      title={t("findings:exposures_part.first_the_touch_then_the")}
    >
      {labels.map(([label, touched]) => {
        const signs = ["1", "2", "3"].reduce((all, level) => all + (touched.signs[level] ?? 0), 0);
        return (
          <div key={label} className="mb-2">
            <p className="flex justify-between gap-4">
              <span>{label}</span>
              <span className="num">
                <Main
                  value={t("common:n_of_of", { n: touched.paid.count, of: touched.paid.of })}
                  behind={behind("came:exposure")}
                />
              </span>
            </p>
            <p className="text-soft">
              {t("findings:exposures_part.paid")}
              {touched.latency_s.median !== null &&
                t("findings:exposures_part.half_within_median_of_its", {
                  median: latency(touched.latency_s.median, 1).slice(1),
                })}
              .
            </p>
            {touched.food_first > 0 && (
              <p>
                <Count
                  n={touched.food_first}
                  words={t("findings:exposures_part.time_food_came_first")}
                  behind={behind("came:food_first")}
                  fault
                />
                {t("findings:exposures_part.then_food_announces_the_touch")}
              </p>
            )}
            {(signs > 0 || touched.opt_outs > 0) && (
              <p className="text-marker">
                {t("findings:exposures_part.within_ten_seconds_after_it", {
                  signs: counted(signs, "sign"),
                  opt_outs: counted(touched.opt_outs, "time"),
                })}
              </p>
            )}
          </div>
        );
      })}
    </Part>
  );
}
