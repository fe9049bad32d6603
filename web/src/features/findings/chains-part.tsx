import type { PlanBody } from "../../domain/marks";
import { behind } from "./behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";

interface ChainStep {
  key: string;
  parts?: { key: string; title?: string }[];
}

/** The parts of a chain as a path: how many came as far, and the link at which it breaks. */
export function ChainsPart({ findings, session, titleOf }: PartOf) {
  const steps = Object.entries(findings.chains);
  if (steps.length === 0) return null;
  const planned = ((session.plan as PlanBody).approximations ?? []) as ChainStep[];
  const nameOf = (step: string, part: string) =>
    planned.find((s) => s.key === step)?.parts?.find((p) => p.key === part)?.title ?? part;
  return (
    <Part id="chains" session={session} about="the chain" title="From part to part">
      {steps.map(([key, chain]) => (
        <div key={key} className="mb-3">
          <p className="flex justify-between gap-4">
            <span>{titleOf(key || null)}</span>
            <span className="num">
              <Main
                value={`${chain.completed.count} of ${chain.completed.of}`}
                behind={behind(`chain:${key}`)}
              />
            </span>
          </p>
          <ol className="mt-1 border-l-2 border-behaviour pl-3">
            {chain.parts.map((part) => {
              const lost = part.reached.of - part.reached.count;
              return (
                <li key={part.key} className={part.key === chain.weakest ? "font-semibold" : ""}>
                  {nameOf(key, part.key)}{" "}
                  <span className="num">
                    {part.reached.count} of {part.reached.of}
                  </span>
                  <span className="text-soft">
                    {part.gap_s !== null && `, ${part.gap_s.toFixed(1)} s after the part before`}
                    {part.helped > 0 && `, ${part.helped} with help`}
                  </span>
                  {lost > 0 && (
                    <>
                      {" "}
                      <Count
                        n={lost}
                        words="broke here"
                        behind={behind(`broke:${part.key}`)}
                        fault
                      />
                    </>
                  )}
                </li>
              );
            })}
          </ol>
          {chain.weakest !== null && (
            <p className="mt-1">
              The weakest link is “{nameOf(key, chain.weakest)}”: train it alone, then join it
              again.
            </p>
          )}
          {chain.out_of_order > 0 && (
            <p className="text-soft">
              {chain.out_of_order} × a part came out of its turn or after the end.
            </p>
          )}
        </div>
      ))}
    </Part>
  );
}
