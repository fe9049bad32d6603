import { InlineGlyph, RewardSeed } from "../../components/glyphs";
import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { LatencyPlot } from "../../components/latency-plot";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** How long the animal waited for what the marker promised. */
export function RewardPart({ findings, session }: PartOf) {
  const summary = findings.reward_latency_s;
  const limit = session.settings.reward_limit_s;
  const paid = findings.reps.filter((r) => r.reward_latency_s !== null);
  return (
    <Part
      id="reward_latency_s"
      session={session}
      about={t("findings:reward_part.the_reward")}
      title={
        <>
          <InlineGlyph kind="reward" /> {t("findings:reward_part.reward_after_the_marker")}
        </>
      }
      value={
        <Main
          value={summary.median === null ? null : latency(summary.median, 2)}
          behind={behind("rewarded")}
        />
      }
    >
      <LatencyPlot
        label={t("findings:reward_part.paidcount_by_their_distance_from", {
          paidCount: counted(paid.length, "reward"),
        })}
        values={paid.map((r) => ({
          id: r.id,
          value: r.reward_latency_s ?? 0,
          strong: r.over_limit === true,
        }))}
        from={Math.min(0, Math.floor(summary.min ?? 0))}
        to={Math.max(limit + 1, Math.ceil(summary.max ?? 0))}
        zero={t("common:marker")}
        median={
          summary.median === null
            ? null
            : { at: summary.median, low: summary.median_low, high: summary.median_high }
        }
        ground={(x, height) => (
          <path d={`M${x(limit)} 4V${height}`} stroke="var(--reward)" strokeDasharray="2 4" />
        )}
        glyph={(x, y) => <RewardSeed x={x} y={y} />}
      />
      <p className="flex flex-wrap gap-x-5 gap-y-1">
        <Count
          n={summary.over_limit}
          words={t("findings:reward_part.over_limit_s", { limit })}
          behind={behind("slow")}
          fault
        />
        <Count
          n={findings.counts.unrewarded_markers}
          words={t("findings:reward_part.markers_without_a_reward")}
          behind={behind("unpaid")}
          fault
        />
        {findings.counts.unmarked_rewards > 0 && (
          <Count
            n={findings.counts.unmarked_rewards}
            words={t("findings:reward_part.rewards_without_a_marker")}
            behind={behind("at:reward")}
          />
        )}
      </p>
      <Surety value={findings.sources.reward_latency_s} />
      <Numbers
        caption={t("findings:reward_part.rewards_by_rep")}
        heads={[
          t("common:rep"),
          t("findings:reward_part.after_the_marker_s"),
          t("findings:reward_part.pieces"),
        ]}
        rows={findings.reps.flatMap((r, n) =>
          r.reward_latency_s === null
            ? []
            : [[n + 1, r.reward_latency_s.toFixed(3), r.pieces ?? "–"]],
        )}
      />
    </Part>
  );
}
