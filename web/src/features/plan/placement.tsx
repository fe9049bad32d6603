import { useState } from "react";
import { Button } from "../../components/button";
import { FIELD, NumberField } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

/** The mix in percent; it is kept as shares once it adds up. */
export function Placement({ plan, set }: PartProps) {
  const kept = Object.entries(plan.placement ?? {}).map(([place, share]) => ({
    place,
    percent: Math.round(share * 1000) / 10,
  }));
  const [draft, setDraft] = useState<typeof kept | null>(null);
  const rows = draft ?? kept;
  const total = rows.reduce((sum, row) => sum + (row.percent || 0), 0);
  const change = (next: typeof kept) => {
    const sum = next.reduce((n, row) => n + (row.percent || 0), 0);
    const names = new Set(next.map((row) => row.place.trim()));
    const isWhole = Math.abs(sum - 100) < 0.11 && names.size === next.length && !names.has("");
    if (next.length === 0) {
      setDraft(null);
      set({ placement: undefined });
    } else if (isWhole) {
      setDraft(null);
      set({
        placement: Object.fromEntries(next.map((row) => [row.place.trim(), row.percent / sum])),
      });
    } else setDraft(next);
  };
  const put = (n: number, row: Partial<(typeof kept)[number]>) =>
    change(rows.map((r, i) => (i === n ? { ...r, ...row } : r)));
  return (
    <div className="space-y-1.5">
      {rows.map((row, n) => (
        <div key={n} className="flex items-center gap-1.5">
          <input
            aria-label={t("plan:placement.place_n", { n: n + 1 })}
            value={row.place}
            onChange={(event) => put(n, { place: event.target.value })}
            className={`${FIELD} min-w-0 flex-1`}
          />
          <NumberField
            label={t("plan:placement.percent_at_place_n", { n: n + 1 })}
            value={row.percent}
            max={100}
            step="any"
            unit="%"
            onChange={(percent) => put(n, { percent: percent ?? 0 })}
          />
          <button
            type="button"
            aria-label={t("plan:placement.take_place_out", {
              place: row.place || t("plan:placement.this_place"),
            })}
            className="px-1 text-soft hover:text-ink"
            onClick={() => change(rows.filter((_, i) => i !== n))}
          >
            ×
          </button>
        </div>
      ))}
      {draft && rows.length > 0 && Math.abs(total - 100) >= 0.11 && (
        <p className="text-[13px] text-marker">
          {t("plan:placement.together_value_the_mix_is", { value: +total.toFixed(1) })}
        </p>
      )}
      <Button
        className="h-7"
        onClick={() => {
          if (rows.length === 0) change([{ place: t("plan:placement.in_place"), percent: 100 }]);
          else
            change([
              ...rows,
              { place: t("plan:placement.tossed_away"), percent: Math.max(0, 100 - total) },
            ]);
        }}
      >
        {t("plan:placement.one_more_place")}
      </Button>
    </div>
  );
}
