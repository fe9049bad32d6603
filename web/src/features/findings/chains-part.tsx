import { behind } from "./behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** The parts of a chain as a path: how many came as far, and the link at which it breaks. */
export function ChainsPart({ findings, session, titleOf }: PartOf) {
  const steps = Object.entries(findings.chains);
  if (steps.length === 0) return null;
  const planned = session.plan.approximations ?? [];
  const nameOf = (step: string, part: string) =>
    planned.find((s) => s.key === step)?.parts?.find((p) => p.key === part)?.title ?? part;
  return (
    <Part
      id="chains"
      session={session}
      about={t("findings:chains_part.the_chain")}
      title={t("findings:chains_part.from_part_to_part")}
    >
      {steps.map(([key, chain]) => (
        <div key={key} className="mb-3">
          <p className="flex justify-between gap-4">
            <span>{titleOf(key || null)}</span>
            <span className="num">
              <Main
                value={t("common:n_of_of", { n: chain.completed.count, of: chain.completed.of })}
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
                    {t("findings:chains_part.number_of_of", {
                      number: part.reached.count,
                      of: part.reached.of,
                    })}
                  </span>
                  <span className="text-soft">
                    {part.gap_s !== null &&
                      t("findings:chains_part.gap_s_s_after_the", { gap_s: part.gap_s.toFixed(1) })}
                    {part.helped > 0 &&
                      t("findings:chains_part.helped_with_help", { helped: part.helped })}
                  </span>
                  {lost > 0 && (
                    <>
                      {" "}
                      <Count
                        n={lost}
                        words={t("findings:chains_part.broke_here")}
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
              {t("findings:chains_part.the_weakest_link_is_key", {
                key: nameOf(key, chain.weakest),
              })}
            </p>
          )}
          {chain.out_of_order > 0 && (
            <p className="text-soft">
              {t("findings:chains_part.out_of_order_a_part", { out_of_order: chain.out_of_order })}
            </p>
          )}
        </div>
      ))}
    </Part>
  );
}
