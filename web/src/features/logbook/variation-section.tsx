import { useState } from "react";

import { Numbers } from "../../components/numbers-behind";
import type { Cell, Grid } from "../../domain/behaviour-logbook";
import { percent } from "../../domain/times";
import { lastTen, nextWords, stateWords } from "../../domain/variation";
import { t } from "../../words";
import { CrossingTable } from "./crossing-table";
import { shortDay } from "../../components/day-plot";
import { Section } from "./section";

/** The plan's conditions by their levels: where it holds, where it was never tried, what is due. */
export function VariationSection({ grid }: { grid: Grid }) {
  const [pair, setPair] = useState(0);
  if (grid.rows.length === 0) return null;
  const crossing = grid.crossings[pair] ?? grid.crossings[0];
  return (
    <Section id="variation" title={t("logbook:variation_section.where_it_holds")} wide>
      <p className="mt-1 text-[20px]">{nextWords(grid.next)}</p>
      <div className="mt-3 space-y-2.5">
        {grid.rows.map((row) => (
          <div
            key={row.name}
            className="grid grid-cols-[8rem_1fr] items-center gap-3 max-md:grid-cols-1 max-md:gap-1"
          >
            <h3>{row.name}</h3>
            <ol className="flex flex-wrap gap-1.5">
              {row.levels.map(({ level, in_plan, cell }) => (
                <li
                  key={level}
                  className={`w-[8.2rem] rounded border px-2 py-1 ${LOOKS[cell.state]}`}
                >
                  <span className={`block truncate ${in_plan ? "" : "italic"}`} title={level}>
                    {level}
                  </span>
                  <span className="block text-[12.5px] text-soft">{stateWords(cell)}</span>
                </li>
              ))}
            </ol>
          </div>
        ))}
      </div>
      {crossing && (
        <details className="mt-4">
          <summary className="cursor-pointer text-soft underline decoration-line underline-offset-3">
            {t("logbook:variation_section.two_together")}
          </summary>
          <CrossingTable grid={grid} crossing={crossing} pair={pair} onPair={setPair} />
        </details>
      )}
      <Numbers
        caption={t("logbook:variation_section.where_it_holds")}
        heads={[
          t("logbook:variation_section.condition"),
          t("logbook:variation_section.level"),
          t("logbook:variation_section.judged"),
          t("logbook:variation_section.last_ten"),
          t("common:could_be"),
          t("logbook:variation_section.last_day"),
        ]}
        rows={grid.rows.flatMap((row) =>
          row.levels.map(({ level, cell }) => [
            row.name,
            level,
            cell.judged,
            lastTen(cell),
            cell.success.low === null || cell.success.high === null
              ? "–"
              : `${percent(cell.success.low)} – ${percent(cell.success.high)}`,
            cell.last_day ? shortDay(cell.last_day) : "–",
          ]),
        )}
      />
    </Section>
  );
}

const LOOKS: Record<Cell["state"], string> = {
  untried: "border-dashed border-line bg-transparent",
  few: "border-line bg-transparent",
  weak: "border-marker bg-transparent",
  building: "border-behaviour bg-transparent",
  holds: "border-behaviour bg-behaviour/15",
};
