import { Fragment } from "react";

import { Numbers } from "../../components/numbers-behind";
import { aloneWords, chainNextWords, joinWords, type Chaining } from "../../domain/chain";
import { percent } from "../../domain/times";
import { t } from "../../words";
import { Section } from "./section";

/** The parts of a chain in their order, the joins between them, and which link is next. */
export function ChainSection({ chain }: { chain: Chaining | null }) {
  if (chain === null) return null;
  const { parts, joins, joined, next, direction } = chain;
  const title = (key: string) => parts.find((part) => part.key === key)?.title ?? key;
  return (
    <Section id="links" title={t("logbook:chain_section.the_chain_link_by_link")} wide>
      <p className="mt-1 text-[20px]">{chainNextWords(chain)}</p>
      <ol className="mt-3 flex flex-wrap items-stretch gap-y-2">
        {parts.map((part, place) => {
          const join = joins[place - 1];
          const isJoined = joined.includes(part.key);
          return (
            <Fragment key={part.key}>
              {join && (
                <li className="flex min-w-[7.5rem] flex-col items-center justify-center px-1.5">
                  <span
                    aria-hidden
                    className={`block w-full border-t-[3px] ${
                      join.holds
                        ? "border-behaviour"
                        : join.is_weak
                          ? "border-dashed border-marker"
                          : "border-dotted border-soft"
                    }`}
                  />
                  <span className="pt-1 text-[12.5px] text-soft">{joinWords(join)}</span>
                </li>
              )}
              <li
                aria-current={next.parts.includes(part.key) ? "step" : undefined}
                className={`min-w-[8rem] rounded border px-2.5 py-1.5 ${
                  isJoined ? "border-behaviour bg-behaviour/15" : "border-line"
                } ${next.parts.includes(part.key) ? "outline-2 -outline-offset-2 outline-ink" : ""}`}
              >
                <span className="block">{part.title}</span>
                <span className="block text-[12.5px] text-soft">{aloneWords(part)}</span>
              </li>
            </Fragment>
          );
        })}
      </ol>
      <p className="mt-2 text-[13px] text-soft">
        {direction === "backward"
          ? t("logbook:chain_section.outlined_from_the_end")
          : t("logbook:chain_section.outlined_from_the_start")}
      </p>
      <Numbers
        caption={t("logbook:chain_section.the_chain_link_by_link")}
        heads={[
          t("logbook:chain_section.from"),
          t("logbook:chain_section.to"),
          t("logbook:chain_section.went_on"),
          t("common:could_be"),
        ]}
        rows={joins.map((join) => [
          title(join.first),
          title(join.second),
          join.reached.of === 0 ? "–" : `${join.reached.count} / ${join.reached.of}`,
          join.reached.low === null || join.reached.high === null
            ? "–"
            : `${percent(join.reached.low)} – ${percent(join.reached.high)}`,
        ])}
      />
    </Section>
  );
}
