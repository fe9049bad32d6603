import { BehaviourStep, InlineGlyph } from "../../components/glyphs";
import { counted } from "../../domain/times";
import { behind } from "./behind";
import { LatencyPlot } from "../../components/latency-plot";
import { Numbers } from "../../components/numbers-behind";
import { Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** How long the behaviour lasted at each step. */
export function HeldPart({ findings, session, titleOf }: PartOf) {
  const steps = Object.entries(findings.held_s).filter(([, held]) => held.n > 0);
  if (steps.length === 0) return null;
  const longest = Math.max(1, ...steps.map(([, held]) => held.max ?? 0));
  const to = longest > 4 ? Math.ceil(longest) : Math.ceil(longest * 2) / 2;
  return (
    <Part
      id="held_s"
      session={session}
      about={t("findings:held_part.how_long_it_lasted")}
      title={
        <>
          <InlineGlyph kind="behaviour" /> {t("findings:held_part.how_long_it_lasted_2")}
        </>
      }
      value={null}
    >
      {steps.map(([key, held]) => {
        const reps = findings.reps.filter(
          (r) => r.held_s !== null && (r.approximation ?? "") === key,
        );
        return (
          <div key={key} className="mb-2">
            <p className="flex justify-between gap-4">
              <span>{titleOf(key || null)}</span>
              <span className="num">
                <Main
                  value={held.median === null ? null : `${held.median.toFixed(2)} s`}
                  behind={behind(`held:${key}`)}
                />
              </span>
            </p>
            <LatencyPlot
              label={t("findings:held_part.titleof_n_by_how_long", {
                titleOf: titleOf(key || null),
                n: counted(held.n, "rep"),
              })}
              values={reps.map((r) => ({ id: r.id, value: r.held_s ?? 0, strong: false }))}
              from={0}
              to={to}
              zero="0"
              median={
                held.median === null
                  ? null
                  : { at: held.median, low: held.median_low, high: held.median_high }
              }
              ground={() => null}
              glyph={(x, y) => <BehaviourStep from={x - 3} to={x + 3} y={y} />}
            />
            {held.rewards_per_attempt > 1.05 && (
              <p className="text-soft">
                {t("findings:held_part.rewards_per_attempt_rewards_each", {
                  rewards_per_attempt: held.rewards_per_attempt.toFixed(1),
                })}
              </p>
            )}
          </div>
        );
      })}
      <Surety value={findings.sources.held_s} />
      <Numbers
        caption={t("findings:held_part.how_long_each_rep_lasted")}
        heads={[t("common:rep"), t("findings:held_part.step"), t("findings:held_part.lasted_s")]}
        rows={findings.reps.flatMap((r, n) =>
          r.held_s === null ? [] : [[n + 1, titleOf(r.approximation), r.held_s.toFixed(3)]],
        )}
      />
    </Part>
  );
}
