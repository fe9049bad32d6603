import { type PlanDocument, withStep } from "../../domain/plan-document";
import { Line } from "./fields";
import { t } from "../../words";

/** Steps that were taken out; each can be had back. */
export function Retired({
  plan,
  change,
}: {
  plan: PlanDocument;
  change: (plan: PlanDocument) => void;
}) {
  const retired = (plan.approximations ?? []).filter((step) => step.retired);
  if (retired.length === 0) return null;
  return (
    <Line label={t("plan:retired.retired")}>
      <ul>
        {retired.map((step) => (
          <li key={step.key} className="flex justify-between gap-2">
            <span>{step.title}</span>
            <button
              type="button"
              className="underline underline-offset-3"
              onClick={() => change(withStep(plan, step.key, { retired: undefined }))}
            >
              {t("plan:retired.bring_it_back")}
            </button>
          </li>
        ))}
      </ul>
    </Line>
  );
}
