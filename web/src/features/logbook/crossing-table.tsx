import type { Crossing, Grid } from "../../domain/behaviour-logbook";
import { lastTen } from "../../domain/variation";
import { t } from "../../words";

interface CrossingTableProps {
  grid: Grid;
  crossing: Crossing;
  /** Its place among the grid's crossings. */
  pair: number;
  onPair: (pair: number) => void;
}

/** Two conditions against each other: how many of the last ten fitted where they meet. */
export function CrossingTable({ grid, crossing, pair, onPair }: CrossingTableProps) {
  const levels = (name: string) =>
    grid.rows.find((row) => row.name === name)?.levels.map(({ level }) => level) ?? [];
  return (
    <div className="mt-2 overflow-x-auto">
      {grid.crossings.length > 1 && (
        <select
          aria-label={t("logbook:crossing_table.which_two")}
          value={pair}
          onChange={(event) => onPair(Number(event.target.value))}
          className="mb-2 h-8 rounded border border-line bg-paper px-2"
        >
          {grid.crossings.map(({ first, second }, n) => (
            <option key={`${first} ${second}`} value={n}>
              {t("logbook:crossing_table.first_and_second", { first, second })}
            </option>
          ))}
        </select>
      )}
      <table className="num border-collapse">
        <caption className="sr-only">
          {t("logbook:crossing_table.first_and_second", crossing)}
        </caption>
        <thead>
          <tr>
            <th className="px-2 py-1 text-left font-sans font-normal text-soft">
              {t("logbook:crossing_table.first_by_second", crossing)}
            </th>
            {levels(crossing.second).map((level) => (
              <th key={level} scope="col" className="px-3 py-1 text-right font-sans">
                {level}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {levels(crossing.first).map((level, n) => (
            <tr key={level} className="border-t border-hair">
              <th scope="row" className="px-2 py-1 text-left font-sans">
                {level}
              </th>
              {crossing.cells[n]?.map((cell, place) => (
                <td
                  key={levels(crossing.second)[place]}
                  className={`px-3 py-1 text-right whitespace-nowrap ${cell.state === "weak" ? "text-marker" : ""}`}
                >
                  {lastTen(cell)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
