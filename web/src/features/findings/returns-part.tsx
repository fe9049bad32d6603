import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** Sent away for the next rep: how fast it comes back. */
export function ReturnsPart({ findings, session }: PartOf) {
  const { returns } = findings;
  if (returns.n === 0) return null;
  const { slope_per_min: slope, p } = returns.trend;
  return (
    <Part
      id="returns"
      session={session}
      about={t("findings:returns_part.coming_back")}
      title={t("findings:returns_part.sent_away_and_back")}
      value={
        <Main
          value={returns.km_median_s === null ? null : latency(returns.km_median_s, 1).slice(1)}
          behind={behind("came:return:back")}
        />
      }
    >
      <p>
        {t("findings:returns_part.sent_away_n", { n: counted(returns.n, "time") })}{" "}
        <Count
          n={returns.back_s.n}
          words={t("findings:returns_part.came_back_by_itself")}
          behind={behind("came:return:back")}
        />
        {returns.lost > 0 && (
          <>
            ,{" "}
            <Count
              n={returns.lost}
              words={t("findings:returns_part.did_not")}
              behind={behind("came:return:lost")}
              fault
            />
          </>
        )}
        {returns.cut > 0 && (
          <>
            ,{" "}
            <Count
              n={returns.cut}
              words={t("findings:returns_part.could_not_be_waited_for")}
              behind={behind("came:return:cut")}
            />
          </>
        )}
        .{" "}
        {returns.km_median_s === null
          ? t("findings:returns_part.fewer_than_half_were_seen")
          : t("findings:returns_part.half_were_back_within_the")}
      </p>
      {slope !== null && p !== null && p < 0.05 && (
        <p className="mt-1 text-marker">
          {slope > 0
            ? t("findings:returns_part.it_came_back_more_slowly")
            : t("findings:returns_part.it_came_back_faster_as")}
        </p>
      )}
      <Numbers
        caption={t("findings:returns_part.each_time_it_was_sent")}
        heads={[
          t("findings:returns_part.at_s"),
          t("findings:returns_part.what_came_of_it"),
          t("findings:returns_part.after_s"),
        ]}
        rows={findings.moments.flatMap((m) =>
          "role" in m && m.role === "return"
            ? [[m.t_s.toFixed(3), m.outcome, m.s?.toFixed(3) ?? ""]]
            : [],
        )}
      />
    </Part>
  );
}
