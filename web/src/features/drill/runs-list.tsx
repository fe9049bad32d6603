import { useState } from "react";

import { Button } from "../../components/button";
import type { DrillRow } from "../../domain/drill";
import { latency } from "../../domain/times";
import { day } from "../../domain/words";
import { t } from "../../words";

const FIRST = 6;

interface RunsListProps {
  runs: DrillRow[];
  shownId: string | null;
  onShow: (id: string) => void;
}

/** One's drills, the newest first. */
export function RunsList({ runs, shownId, onShow }: RunsListProps) {
  const [isAll, setAll] = useState(false);
  if (runs.length === 0) return null;
  return (
    <section aria-labelledby="runs">
      <h2 id="runs" className="text-[16px] font-semibold">
        {t("drill:runs.your_drills")}
      </h2>
      <ul>
        {(isAll ? runs : runs.slice(0, FIRST)).map((run) => (
          <li key={run.id} className="border-b border-hair">
            <button
              type="button"
              aria-current={run.id === shownId}
              onClick={() => onShow(run.id)}
              className={`flex w-full items-baseline gap-2 py-1 text-left text-[13px] hover:underline aria-[current=true]:font-semibold ${
                run.left_out ? "text-soft line-through" : ""
              }`}
            >
              <span className="min-w-0 flex-1 truncate">
                {day(run.at.slice(0, 10))} · {t(`drill:runs.${run.instant}`)} ·{" "}
                {t(`drill:level.${run.level}`)}
              </span>
              <span className="num">{run.lag_s === null ? "–" : latency(run.lag_s, 2)}</span>
              <span className="num w-12 text-right text-soft">
                {run.caught.count}/{run.caught.of}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {runs.length > FIRST && !isAll && (
        <Button look="quiet" onClick={() => setAll(true)}>
          {t("drill:runs.all", { count: runs.length })}
        </Button>
      )}
    </section>
  );
}
