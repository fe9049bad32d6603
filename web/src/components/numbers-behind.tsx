import { useState, type ReactNode } from "react";
import { t } from "../words";

interface NumbersProps {
  /** What the table is of: the plot's own name. */
  caption: string;
  heads: string[];
  rows: ReactNode[][];
}

/** The numbers behind a plot, for whoever does not see it or wants to check it. */
export function Numbers({ caption, heads, rows }: NumbersProps) {
  // Hundreds of rows nobody asked for would hold the page up.
  const [open, setOpen] = useState(false);
  return (
    <details
      className="no-print mt-1 text-[13px]"
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="cursor-pointer text-soft underline decoration-line underline-offset-3">
        {t("components:numbers_behind.in_numbers")}
      </summary>
      {open && (
        <div className="mt-1">
          <table className="num text-left">
            <caption className="sr-only">{caption}</caption>
            <thead>
              <tr className="text-soft">
                {heads.map((head) => (
                  <th key={head} scope="col" className="pr-5 font-normal">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row, n) => (
                <tr key={n} className="border-t border-hair">
                  {row.map((cell, k) =>
                    k === 0 ? (
                      <th key={k} scope="row" className="pr-5 font-normal">
                        {cell}
                      </th>
                    ) : (
                      <td key={k} className="pr-5">
                        {cell}
                      </td>
                    ),
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </details>
  );
}
