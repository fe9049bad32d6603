import { memo } from "react";
import { Link, useParams } from "react-router";

import type { Findings } from "../../api/findings";
import { counted, latency, uncertainty } from "../../domain/times";
import type { LadderAxis } from "../../domain/ladder-axis";
import { t } from "../../words";

const HEIGHT = 40;

/** Where the markers fall, on the ladder's own axis, and the numbers that follow from it. */
export const MarkerDensity = memo(function MarkerDensity({
  findings,
  axis,
  rewardLimitS,
}: {
  findings: Findings;
  axis: LadderAxis;
  rewardLimitS: number;
}) {
  const { sessionId } = useParams();
  const { points } = findings.marker_density;
  const summary = findings.marker_latency_s;
  const reward = findings.reward_latency_s;
  const rate = findings.rates.reinforcement_per_min;
  const over = findings.timing.behaviour_over ?? 0;
  const to = (part: string) => `/sessions/${sessionId ?? ""}/findings#${part}`;
  return (
    <div className="shrink-0 border-t border-line pt-1">
      <svg width={axis.width} height={HEIGHT} aria-hidden>
        <text x={0} y={16} fontSize={11.5} fill="var(--soft)">
          {t("bench:marker_density.where_markers")}
        </text>
        <text x={0} y={30} fontSize={11.5} fill="var(--soft)">
          {t("bench:marker_density.fall")}
        </text>
        {points.length > 0 && (
          <path
            d={bells(points, axis)}
            fill="var(--marker)"
            fillOpacity={0.2}
            stroke="var(--marker)"
          />
        )}
      </svg>
      <dl className="grid grid-cols-3 gap-x-4 pt-1 text-[12.5px]">
        <KeyNumber
          to={to("marker")}
          name={t("bench:marker_density.marker_in_the_middle")}
          value={summary.median === null ? "–" : latency(summary.median, 2)}
          aside={
            summary.median_low !== null && summary.median_high !== null
              ? t("bench:marker_density.median_low_to_median_high", {
                  median_low: latency(summary.median_low, 2),
                  median_high: latency(summary.median_high, 2),
                })
              : summary.n > 0
                ? t("bench:marker_density.n_too_few_for_a", { n: counted(summary.n, "rep") })
                : t("bench:marker_density.no_marked_rep_yet")
          }
          fault={over > 0 ? t("bench:marker_density.over_after_it_was_over", { over }) : undefined}
        />
        <KeyNumber
          to={to("reward")}
          name={t("bench:marker_density.reward_after_the_marker")}
          value={reward.median === null ? "–" : latency(reward.median, 2)}
          aside={
            findings.sources.reward_latency_s === null
              ? t("bench:marker_density.no_reward_yet")
              : t("bench:marker_density.each_reward_latency_s", {
                  reward_latency_s: uncertainty(findings.sources.reward_latency_s),
                })
          }
          fault={
            reward.over_limit > 0
              ? t("bench:marker_density.over_limit_over_rewardlimits_s", {
                  over_limit: reward.over_limit,
                  rewardLimitS,
                })
              : undefined
          }
        />
        <KeyNumber
          to={to("rate")}
          name={t("bench:marker_density.rewarded_a_minute")}
          value={rate.value === null ? "–" : rate.value.toFixed(1)}
          aside={
            rate.low === null || rate.high === null
              ? t("bench:marker_density.no_time_yet")
              : t("bench:marker_density.low_to_high", {
                  low: rate.low.toFixed(1),
                  high: rate.high.toFixed(1),
                })
          }
          fault={
            findings.counts.unrewarded_markers > 0
              ? t("bench:marker_density.unrewarded_markers_unpaid", {
                  unrewarded_markers: counted(findings.counts.unrewarded_markers, "marker"),
                })
              : undefined
          }
        />
      </dl>
    </div>
  );
});

interface KeyNumberProps {
  to: string;
  name: string;
  value: string;
  aside: string;
  fault?: string | undefined;
}

function KeyNumber({ to, name, value, aside, fault }: KeyNumberProps) {
  return (
    <div>
      <dt className="text-soft">{name}</dt>
      <dd>
        <Link to={to} className="num text-[17px] underline decoration-line underline-offset-3">
          {value}
        </Link>
        <div className="text-[11.5px] text-soft">{aside}</div>
        {fault && <div className="text-[11.5px] text-marker">{fault}</div>}
      </dd>
    </div>
  );
}

/** The core's density of the markers as a closed path. */
function bells(points: number[][], { x }: LadderAxis): string {
  const foot = HEIGHT - 2;
  const line = points
    .map(([s = 0, height = 0]) => `${x(s).toFixed(1)} ${(foot - height * (HEIGHT - 8)).toFixed(1)}`)
    .join("L");
  const [first, last] = [points[0]?.[0] ?? 0, points.at(-1)?.[0] ?? 0];
  return `M${x(first)} ${foot}L${line}L${x(last)} ${foot}Z`;
}
