import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { LatencyPlot } from "../../components/latency-plot";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** Did the hand move before the marker: then the animal watches the hand. */
export function HandPart({ findings, session }: PartOf) {
  const summary = findings.reach_lead_s;
  if (summary.n === 0) return null;
  const reps = findings.reps.filter((r) => r.reach_lead_s !== null);
  // Drawn as the hand's own instant, so that first stands left of the marker.
  const values = reps.map((r) => ({
    id: r.id,
    value: -(r.reach_lead_s ?? 0),
    strong: r.hand_first === true,
  }));
  const xs = values.map((v) => v.value);
  return (
    <Part
      id="reach_lead_s"
      session={session}
      about={t("findings:hand_part.the_hand")}
      title={t("findings:hand_part.the_hand_beside_the_marker")}
      value={
        <Main
          value={summary.median === null ? null : latency(-summary.median, 2)}
          behind={behind("hand")}
        />
      }
    >
      <LatencyPlot
        label={t("findings:hand_part.n_of_the_hand_by", { n: counted(summary.n, "movement") })}
        values={values}
        from={Math.min(-1, Math.floor(Math.min(...xs) * 2) / 2)}
        to={Math.max(1, Math.ceil(Math.max(...xs) * 2) / 2)}
        zero={t("common:marker")}
        median={
          summary.median === null
            ? null
            : {
                at: -summary.median,
                low: summary.median_high === null ? null : -summary.median_high,
                high: summary.median_low === null ? null : -summary.median_low,
              }
        }
        ground={(x, height) => (
          <>
            <rect
              x={x(-99)}
              width={x(0) - x(-99)}
              y={4}
              height={height - 4}
              fill="var(--zone-early)"
            />
            <path d={`M${x(0)} 4V${height}`} stroke="var(--marker)" strokeWidth={1.5} />
          </>
        )}
        glyph={(x, y, strong) => (
          <path
            d={`M${x - 4} ${y - 5}L${x + 4} ${y}L${x - 4} ${y + 5}Z`}
            fill={strong ? "var(--marker)" : "var(--paper)"}
            stroke="var(--ink)"
            strokeWidth={1.2}
          />
        )}
      />
      <p>
        <Count
          n={summary.before_marker}
          words={t("findings:hand_part.of_n_moved_before_the", { n: summary.n })}
          behind={behind("hand_first")}
          fault
        />
        {summary.before_marker > 0 && (
          <span className="text-soft">{t("findings:hand_part.what_moves_first_is_what")}</span>
        )}
      </p>
      <Surety value={findings.sources.reach_lead_s} />
      <Numbers
        caption={t("findings:hand_part.the_hand_by_rep")}
        heads={[
          t("common:rep"),
          t("findings:hand_part.before_the_marker_s"),
          t("findings:hand_part.first"),
        ]}
        rows={findings.reps.flatMap((r, n) =>
          r.reach_lead_s === null
            ? []
            : [
                [
                  n + 1,
                  r.reach_lead_s.toFixed(3),
                  r.hand_first
                    ? t("findings:hand_part.the_hand")
                    : t("findings:hand_part.the_marker"),
                ],
              ],
        )}
      />
    </Part>
  );
}
