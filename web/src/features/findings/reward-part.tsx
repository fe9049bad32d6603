import { InlineGlyph, RewardSeed } from "../../components/glyphs";
import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { LatencyPlot } from "./latency-plot";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";

/** How long the animal waited for what the marker promised. */
export function RewardPart({ findings, session }: PartOf) {
  const summary = findings.reward_latency_s;
  const limit = session.settings.reward_limit_s;
  const paid = findings.reps.filter((r) => r.reward_latency_s !== null);
  return (
    <Part
      id="reward_latency_s"
      session={session}
      about="the reward"
      title={
        <>
          <InlineGlyph kind="reward" /> Reward, after the marker
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
        label={`${counted(paid.length, "reward")} by their distance from the marker`}
        values={paid.map((r) => ({
          id: r.id,
          value: r.reward_latency_s ?? 0,
          strong: r.over_limit === true,
        }))}
        from={Math.min(0, Math.floor(summary.min ?? 0))}
        to={Math.max(limit + 1, Math.ceil(summary.max ?? 0))}
        zero="marker"
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
        <Count n={summary.over_limit} words={`over ${limit} s`} behind={behind("slow")} fault />
        <Count
          n={findings.counts.unrewarded_markers}
          words="markers without a reward"
          behind={behind("unpaid")}
          fault
        />
        {findings.counts.unmarked_rewards > 0 && (
          <Count
            n={findings.counts.unmarked_rewards}
            words="rewards without a marker"
            behind={behind("at:reward")}
          />
        )}
      </p>
      <Surety value={findings.sources.reward_latency_s} />
      <Numbers
        caption="Rewards by rep"
        heads={["Rep", "after the marker, s", "pieces"]}
        rows={findings.reps.flatMap((r, n) =>
          r.reward_latency_s === null
            ? []
            : [[n + 1, r.reward_latency_s.toFixed(3), r.pieces ?? "–"]],
        )}
      />
    </Part>
  );
}
