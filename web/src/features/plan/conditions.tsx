import { Button } from "../../components/button";
import { ClockCalculator } from "./calculators/clock";
import { SidesCalculator } from "./calculators/sides";
import { FIELD } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

/** What is varied, each with its levels. */
export function Conditions({ plan, set }: PartProps) {
  const conditions = plan.conditions ?? [];
  const fill = (condition: { name: string; levels: string[] }) =>
    set({ conditions: [...conditions.filter((c) => c.name !== condition.name), condition] });
  const put = (n: number, condition: Partial<(typeof conditions)[number]>) =>
    set({ conditions: conditions.map((c, i) => (i === n ? { ...c, ...condition } : c)) });
  return (
    <>
      <div className="space-y-1.5">
        {conditions.map((condition, n) => (
          <div key={n} className="flex items-center gap-1.5">
            <input
              aria-label={t("plan:conditions.condition_n", { n: n + 1 })}
              value={condition.name}
              onChange={(event) => put(n, { name: event.target.value || "condition" })}
              className={`${FIELD} w-24`}
            />
            <input
              aria-label={t("plan:conditions.levels_of_name", { name: condition.name })}
              placeholder={t("plan:conditions.levels_with_commas")}
              defaultValue={(condition.levels ?? []).join(", ")}
              key={(condition.levels ?? []).join()}
              onBlur={(event) =>
                put(n, {
                  levels: event.target.value
                    .split(",")
                    .map((level) => level.trim())
                    .filter(Boolean),
                })
              }
              className={`${FIELD} min-w-0 flex-1`}
            />
            <button
              type="button"
              aria-label={t("plan:conditions.take_name_out", { name: condition.name })}
              className="px-1 text-soft hover:text-ink"
              onClick={() => set({ conditions: conditions.filter((_, i) => i !== n) })}
            >
              ×
            </button>
          </div>
        ))}
        <Button
          className="h-7"
          onClick={() => set({ conditions: [...conditions, { name: "distance", levels: [] }] })}
        >
          {t("plan:conditions.one_more_condition")}
        </Button>
      </div>
      <ClockCalculator onFill={fill} />
      <SidesCalculator reps={plan.rep_cap} onFill={fill} />
    </>
  );
}
