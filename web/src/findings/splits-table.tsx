import { Link } from "react-router";

import type { Split } from "../api/findings";
import { counted, latency, percent, shortClock } from "../ui/times";

interface SplitsTableProps {
  splits: Split[];
  titleOf: (approximation: string | null) => string;
  behind: (approximation: string | null) => { to: string; onClick: () => void };
}

const HEADS = [
  "Step",
  "Time",
  "Fits",
  "could be",
  "Longest run",
  "Rewards a minute",
  "Marker",
  "Reward",
  "Your change",
];

/** The steps of the session, one line each, to be read aloud. */
export function SplitsTable({ splits, titleOf, behind }: SplitsTableProps) {
  return (
    <section aria-labelledby="splits-title" className="pt-4">
      <h2 id="splits-title" className="border-b border-ink pb-1 text-[18px] font-semibold">
        Step by step
      </h2>
      <div className="overflow-x-auto">
        <table className="w-full text-left whitespace-nowrap" data-testid="splits">
          <thead>
            <tr className="text-[13px] text-soft">
              {HEADS.map((head) => (
                <th key={head} scope="col" className="py-1.5 pr-4 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {splits.map((split) => (
              <tr key={split.approximation} className="border-t border-hair">
                <th scope="row" className="py-1.5 pr-4 font-normal">
                  <Link
                    {...behind(split.approximation)}
                    preventScrollReset
                    className="underline decoration-line underline-offset-3"
                  >
                    {titleOf(split.approximation)}
                  </Link>
                </th>
                <td className="num pr-4">{shortClock(split.training_time_s)}</td>
                <td className="num pr-4">
                  {split.judged === 0 ? "–" : `${split.met} of ${split.judged}`}
                </td>
                <td className="num pr-4 text-soft">
                  {split.low === null || split.high === null
                    ? "–"
                    : `${percent(split.low)} to ${percent(split.high)}`}
                </td>
                <td className="num pr-4">{split.judged === 0 ? "–" : split.longest_run}</td>
                <td className="num pr-4">
                  {split.reinforcement_per_min.value === null
                    ? "–"
                    : split.reinforcement_per_min.value.toFixed(1)}
                </td>
                <td className="num pr-4">{seconds(split.marker_latency_s)}</td>
                <td className="num pr-4">{seconds(split.reward_latency_s)}</td>
                <td>{changeOf(split)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function seconds(value: number | null): string {
  return value === null ? "–" : latency(value, 2);
}

/** The trainer's own change at the end of a step against the plan's rule. */
function changeOf({ change, attempts_to_rule }: Split): string {
  const reps = change.attempts === null ? "" : counted(change.attempts, "rep");
  if (change.kind === "with_rule") return "when the rule said so";
  if (change.kind === "late") return `${reps} after the rule`;
  if (change.kind === "early") return reps ? `${reps} before the rule` : "before the rule";
  return attempts_to_rule === null ? "–" : `rule: raise after ${attempts_to_rule}`;
}
