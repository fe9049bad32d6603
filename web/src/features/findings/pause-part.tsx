import { chance, latency } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";
import { roundLines, SessionPlot } from "./session-plot";
import { t } from "../../words";

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
      about={t("findings:pause_part.the_pauses")}
      title={t("findings:pause_part.came_back_after_a_reward")}
      value={<Main value={`${summary.median.toFixed(1)} s`} behind={behind("paused")} />}
    >
      <SessionPlot
        findings={findings}
        label={t("findings:pause_part.n_pauses_through_the_session", { n: summary.n })}
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
          ? t("findings:pause_part.too_few_to_say_whether")
          : p >= 0.05
            ? t("findings:pause_part.no_trend_beyond_chance_as", { p: chance(p) })
            : slope > 0
              ? t("findings:pause_part.they_grew_by_slope_a", {
                  slope: latency(slope, 1),
                  p: chance(p),
                })
              : t("findings:pause_part.they_shrank_by_slope_a", {
                  slope: latency(slope, 1),
                  p: chance(p),
                })}
      </p>
      <Surety value={findings.sources.pause_s} />
      <Numbers
        caption={t("findings:pause_part.pauses_by_rep")}
        heads={[
          t("common:rep"),
          t("findings:pause_part.begins_s"),
          t("findings:pause_part.after_the_reward_s"),
        ]}
        rows={findings.reps.flatMap((r, n) =>
          r.pause_s === null ? [] : [[n + 1, r.onset_s.toFixed(3), r.pause_s.toFixed(3)]],
        )}
      />
    </Part>
  );
}
