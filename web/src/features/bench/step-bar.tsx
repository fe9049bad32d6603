import { useState } from "react";

import { KeyCap } from "../../components/key-cap";
import { StepsDialog } from "./steps-dialog";
import type { Marking } from "./use-marking";
import { t } from "../../words";

/** The steps of the plan: the one in force here stands out; pressing one begins it here. */
export function StepBar({ marking }: { marking: Marking }) {
  const [open, setOpen] = useState(false);
  const steps = marking.plan.approximations ?? [];
  return (
    <div
      role="toolbar"
      aria-label={t("bench:step_bar.steps")}
      className="flex items-center gap-x-1.5 gap-y-0.5 overflow-x-auto text-[12.5px] whitespace-nowrap"
    >
      {steps.map((step, place) => {
        const isInForce = marking.stepInForce === step.key;
        return (
          <button
            key={step.key}
            type="button"
            aria-pressed={isInForce}
            title={
              isInForce ? t("bench:step_bar.in_force_here") : t("bench:step_bar.from_this_frame_on")
            }
            onClick={() => {
              if (!isInForce) marking.startStep(step.key);
            }}
            className={`flex h-7 max-w-44 shrink-0 items-center gap-1.5 border-b-2 pr-1.5 hover:border-ink ${
              isInForce ? "border-behaviour font-semibold" : "border-line text-soft"
            }`}
          >
            {place < 9 && <KeyCap>{String(place + 1)}</KeyCap>}
            <span className="truncate">{marking.titleOf(step.key)}</span>
          </button>
        );
      })}
      <button
        type="button"
        onClick={() => setOpen(true)}
        className="h-7 text-soft underline decoration-line underline-offset-3 hover:text-ink"
      >
        {steps.length === 0
          ? t("bench:step_bar.name_the_steps_of_this")
          : t("bench:step_bar.change_the_steps")}
      </button>
      {open && <StepsDialog marking={marking} onClose={() => setOpen(false)} />}
    </div>
  );
}
