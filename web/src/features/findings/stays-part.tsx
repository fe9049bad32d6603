import { counted, nounFor } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** Did it stay until it was let go, and how often was it paid in place? */
export function StaysPart({ findings, session, titleOf }: PartOf) {
  const steps = Object.entries(findings.stays);
  if (steps.length === 0) return null;
  return (
    <Part
      id="stays"
      session={session}
      about={t("findings:stays_part.staying")}
      title={t("findings:stays_part.staying_until_let_go")}
    >
      {steps.map(([key, stay]) => (
        <div key={key} className="mb-2">
          <p className="flex justify-between gap-4">
            <span>{titleOf(key || null)}</span>
            <span className="num">
              <Main
                value={t("common:n_of_of", { n: stay.kept.count, of: stay.kept.of })}
                behind={behind("stay:kept")}
              />
            </span>
          </p>
          <p className="text-soft">
            {t("findings:stays_part.stayed_until_let_go")}
            {stay.left_early > 0 && (
              <>
                ;{" "}
                <Count
                  n={stay.left_early}
                  words={t("findings:stays_part.left_before")}
                  behind={behind("stay:left_early")}
                  fault
                />
              </>
            )}
            {stay.open > 0 &&
              t("findings:stays_part.of_open_the_end_is", { open: counted(stay.open, "rep") })}
            {stay.pays_per_rep.mean !== null && stay.pays_per_rep.max !== null && (
              <>
                {t("findings:stays_part.paid_mean_times_in_place", {
                  mean: stay.pays_per_rep.mean.toFixed(1),
                })}{" "}
                <Count
                  n={stay.pays_per_rep.max}
                  words={nounFor(stay.pays_per_rep.max, "time")}
                  behind={behind(`paid_times:${stay.pays_per_rep.max}`)}
                />
              </>
            )}
            {stay.held_s.median !== null && (
              <>
                {t("findings:stays_part.half_lasted_median_s_or", {
                  median: stay.held_s.median.toFixed(1),
                })}
              </>
            )}
            .
          </p>
        </div>
      ))}
      {findings.pay_gap_s.median !== null && (
        <p className="text-soft">
          {t("findings:stays_part.between_two_pays_of_one_x", {
            median: findings.pay_gap_s.median.toFixed(1),
            n: counted(findings.pay_gap_s.n, "gap"),
          })}
          {findings.pay_gap_s.max !== null &&
            t("findings:stays_part.max_s_at_most", { max: findings.pay_gap_s.max.toFixed(1) })}
          .
        </p>
      )}
      <Numbers
        caption={t("findings:stays_part.each_stay")}
        heads={[
          t("common:rep"),
          t("findings:stays_part.step"),
          t("findings:stays_part.stayed"),
          t("findings:stays_part.pays"),
        ]}
        rows={findings.reps.flatMap((r, n) =>
          r.stay === null
            ? []
            : [
                [
                  n + 1,
                  titleOf(r.approximation),
                  r.stay === "kept"
                    ? t("findings:stays_part.until_let_go")
                    : t("findings:stays_part.left_before"),
                  r.pays,
                ],
              ],
        )}
      />
    </Part>
  );
}
