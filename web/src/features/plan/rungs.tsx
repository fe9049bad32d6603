import { ladderOf, withLadder, type PlanDocument, type Quantity } from "../../domain/plan-document";
import { FIELD, NumberField } from "./fields";
import { t } from "../../words";

/** The rungs of what a step measures: how much, how long on each, and where to ask first. */
export function Rungs({
  plan,
  quantity,
  change,
}: {
  plan: PlanDocument;
  quantity: Quantity;
  change: (plan: PlanDocument) => void;
}) {
  const ladder = ladderOf(plan, quantity.name);
  const set = (values: Parameters<typeof withLadder>[2]) =>
    change(withLadder(plan, quantity.name, values));
  const rungs = ladder?.rungs ?? [];
  return (
    <div className="mt-1.5 space-y-1.5">
      <input
        aria-label={t("plan:rungs.rungs_of_name", { name: quantity.name })}
        placeholder={t("plan:rungs.rungs_with_commas")}
        key={rungs.join()}
        defaultValue={rungs.join(", ")}
        onBlur={(event) => {
          const values = event.target.value
            .split(/[,;\s]+/)
            .filter(Boolean)
            .map(Number)
            .filter(Number.isFinite);
          set({ rungs: values.length > 0 ? values : undefined });
        }}
        className={`${FIELD} num w-full`}
      />
      {rungs.length > 0 && (
        <p className="flex flex-wrap gap-x-3 gap-y-1.5">
          <NumberField
            label={t("plan:rungs.days_on_each_rung")}
            value={ladder?.least_days}
            max={365}
            unit={t("plan:rungs.days_on_each_at_least")}
            onChange={(least_days) => set({ least_days })}
          />
          <NumberField
            label={t("plan:rungs.limit")}
            value={ladder?.limit}
            min={-1e9}
            step="any"
            unit={t("plan:rungs.unit_beyond_ask_first", { unit: quantity.unit })}
            onChange={(limit) => set({ limit })}
          />
        </p>
      )}
    </div>
  );
}
