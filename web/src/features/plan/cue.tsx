import { stepsOf } from "../../domain/plan-document";
import { CueCalculator } from "./calculators/cue";
import { FIELD } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

/** The new cue, and the step from which it is given. */
export function Cue({ plan, set }: PartProps) {
  return (
    <>
      <div className="flex items-center gap-1.5">
        <input
          aria-label={t("common:cue2")}
          placeholder={t("plan:cue.none_yet")}
          value={plan.cue?.name ?? ""}
          onChange={(event) =>
            set({ cue: event.target.value ? { ...plan.cue, name: event.target.value } : undefined })
          }
          className={`${FIELD} w-24`}
        />
        {plan.cue && (
          <label className="flex min-w-0 flex-1 items-center gap-1.5">
            {t("common:from")}
            <select
              aria-label={t("plan:cue.cue_from_step")}
              value={plan.cue.from_step ?? ""}
              onChange={(event) =>
                set({
                  cue: {
                    name: plan.cue?.name ?? "",
                    ...(event.target.value ? { from_step: event.target.value } : {}),
                  },
                })
              }
              className={`${FIELD} min-w-0 flex-1`}
            >
              <option value="">–</option>
              {stepsOf(plan).map((step) => (
                <option key={step.key} value={step.key}>
                  {step.title || t("common:not_named_yet")}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      {plan.cue && <CueCalculator />}
    </>
  );
}
