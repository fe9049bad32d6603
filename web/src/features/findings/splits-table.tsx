import { Link, useSearchParams } from "react-router";

import type { SessionOut } from "../../api/client";
import type { Findings, Split } from "../../api/findings";
import { counted, latency, percent, shortClock } from "../../domain/times";
import { behind } from "./behind";
import { Note } from "./note";
import { stepKey } from "../../domain/rep-filter";
import { t } from "../../words";

const HEADS = [
  t("findings:splits_table.time"),
  t("findings:splits_table.fits"),
  t("common:could_be"),
  t("findings:splits_table.longest_run"),
  t("common:rewards_a_minute"),
  t("findings:splits_table.marker"),
  t("findings:splits_table.reward"),
  t("findings:splits_table.to_the_rules_raise"),
  t("findings:splits_table.your_change"),
];

interface SplitsTableProps {
  splits: Findings["splits"];
  session: SessionOut;
  titleOf: (approximation: string | null) => string;
}

/** The steps of the session, or its stretches, one line each, to be read aloud. */
export function SplitsTable({ splits, session, titleOf }: SplitsTableProps) {
  const [search, setSearch] = useSearchParams();
  const byStretch = search.get("by") === "stretch";
  const rows = byStretch ? splits.segments : splits.approximations;
  const differ = splits.segments.length > splits.approximations.length;
  const turn = () => {
    const next = new URLSearchParams(search);
    if (byStretch) next.delete("by");
    else next.set("by", "stretch");
    setSearch(next, { preventScrollReset: true });
  };
  return (
    <section id="splits" aria-labelledby="splits-title" className="scroll-mt-4 pt-8">
      <div className="flex items-baseline gap-4 border-b border-ink pb-1">
        <h2 id="splits-title" className="text-[18px] font-semibold">
          {byStretch
            ? t("findings:splits_table.stretch_by_stretch")
            : t("findings:splits_table.step_by_step")}
        </h2>
        {(differ || byStretch) && (
          <button
            type="button"
            onClick={turn}
            className="no-print text-[13px] text-soft underline decoration-line underline-offset-3"
          >
            {byStretch
              ? t("findings:splits_table.each_step_once")
              : t("findings:splits_table.each_stretch_by_itself")}
          </button>
        )}
      </div>
      <div className="overflow-x-auto print:overflow-visible">
        <table
          className="w-full text-left whitespace-nowrap print:text-[10.5px] print:whitespace-normal"
          data-testid="splits"
        >
          <thead>
            <tr className="text-[13px] text-soft">
              {[byStretch ? t("findings:splits_table.stretch") : t("common:step"), ...HEADS].map(
                (head) => (
                  <th key={head} scope="col" className="py-1.5 pr-4 font-normal">
                    {head}
                  </th>
                ),
              )}
            </tr>
          </thead>
          <tbody>
            {rows.map((split, place) => (
              <tr key={place} className="border-t border-hair">
                <th scope="row" className="py-1.5 pr-4 font-normal">
                  <Link
                    {...behind(byStretch ? `stretch:${place}` : stepKey(split.approximation))}
                    preventScrollReset
                    className="underline decoration-line underline-offset-3"
                  >
                    {titleOf(split.approximation)}
                  </Link>
                  {byStretch && split.start_s !== null && (
                    <span className="num ml-2 text-soft">
                      {t("findings:splits_table.from_start_s", {
                        start_s: shortClock(split.start_s),
                      })}
                    </span>
                  )}
                </th>
                <td className="num pr-4">{shortClock(split.training_time_s)}</td>
                <td className="num pr-4">
                  {split.judged === 0
                    ? "–"
                    : t("findings:splits_table.met_of_judged", {
                        met: split.met,
                        judged: split.judged,
                      })}
                </td>
                <td className="num pr-4 text-soft">
                  {split.low === null || split.high === null
                    ? "–"
                    : t("findings:splits_table.low_to_high", {
                        low: percent(split.low),
                        high: percent(split.high),
                      })}
                </td>
                <td className="num pr-4">{split.judged === 0 ? "–" : split.longest_run}</td>
                <td className="num pr-4">
                  {split.reinforcement_per_min.value === null
                    ? "–"
                    : split.reinforcement_per_min.value.toFixed(1)}
                </td>
                <td className="num pr-4">{seconds(split.marker_latency_s)}</td>
                <td className="num pr-4">{seconds(split.reward_latency_s)}</td>
                <td className="pr-4">{toRule(split)}</td>
                <td>{changeOf(split)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Note session={session} part="splits" about={t("findings:splits_table.the_steps")} />
    </section>
  );
}

/** After how many reps, and how long, the rule said raise. */
function toRule({ attempts_to_rule, time_to_rule_s }: Split): string {
  if (attempts_to_rule === null) return t("common:not_yet");
  const time = time_to_rule_s === null ? "" : `, ${shortClock(time_to_rule_s)}`;
  return `${counted(attempts_to_rule, "rep")}${time}`;
}

function seconds(value: number | null): string {
  return value === null ? "–" : latency(value, 2);
}

/** The trainer's own change at the end of a step against the plan's rule. */
function changeOf({ change }: Split): string {
  const reps = change.attempts === null ? "" : counted(change.attempts, "rep");
  if (change.kind === "with_rule") return t("findings:splits_table.when_the_rule_said_so");
  if (change.kind === "late") return t("findings:splits_table.reps_after_the_rule", { reps });
  if (change.kind === "early")
    return reps
      ? t("findings:splits_table.reps_before_the_rule", { reps })
      : t("findings:splits_table.before_the_rule");
  return "–";
}
