import { useState } from "react";
import { Button } from "../../../components/button";
import type { Step } from "../../../domain/plan-document";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { Trans, t } from "../../../words";

/** Seconds to hold, from the first to the goal, as steps; and rep by rep around a mean. */
export function DurationsCalculator({ onFill }: { onFill: (steps: Partial<Step>[]) => void }) {
  const [start, setStart] = useState<number | undefined>(1);
  const [goal, setGoal] = useState<number | undefined>(8);
  const [factor, setFactor] = useState<number | undefined>(1.5);
  const ladder = useCalculated("numeric_ladder", {
    start: start ?? 0,
    goal: goal ?? 0,
    factor: factor ?? 0,
  });
  const reps = useCalculated("duration_plan", {
    mean_s: start ?? 0,
    reps: 8,
    seed: 1,
  });
  return (
    <Calculator title={t("plan:durations.work_out_durations")}>
      <div className="flex flex-wrap items-center gap-2">
        {t("common:from")}
        <NumberField
          label={t("plan:durations.first_seconds")}
          value={start}
          step={0.5}
          onChange={setStart}
        />
        {t("plan:durations.to")}
        <NumberField
          label={t("plan:durations.last_seconds")}
          value={goal}
          step={0.5}
          onChange={setGoal}
        />
        {t("plan:durations.s_each")}
        <NumberField
          label={t("plan:durations.factor")}
          value={factor}
          min={1.05}
          step={0.05}
          onChange={setFactor}
        />
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">{values.map((v) => +v.toFixed(2)).join(" → ")} s</p>
            <Button
              onClick={() =>
                onFill(
                  values.map((v) => ({
                    title: t("plan:durations.held_value_s", { value: +v.toFixed(2) }),
                    criterion: t("plan:durations.it_lasts_value_s", { value: +v.toFixed(2) }),
                    raises: ["duration"],
                    mark_at: "hold",
                    hold_s: +v.toFixed(2),
                  })),
                )
              }
            >
              {t("common:put_these_in_as_steps")}
            </Button>
          </>
        )}
      </Answered>
      {reps.data && (
        <p>
          {t("plan:durations.around")} {start}{" "}
          <Trans
            i18nKey="plan:durations.s_rep_by_rep_map"
            components={{ part: <span className="num" /> }}
            values={{ map: reps.data.values.map((v) => v.toFixed(1)).join(" · ") }}
          />
        </p>
      )}
    </Calculator>
  );
}
