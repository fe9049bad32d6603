import { useState } from "react";
import { Button } from "../../../components/button";
import type { Step } from "../../../domain/plan-document";
import { FIELD, NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { t } from "../../../words";

/** Strides from a first distance that fits the animal's size, as steps. */
export function DistancesCalculator({
  size,
  onFill,
}: {
  size: string;
  onFill: (steps: Partial<Step>[]) => void;
}) {
  const [goal, setGoal] = useState<number | undefined>(8);
  const [chosen, setChosen] = useState(size || "medium");
  const ladder = useCalculated("distance_ladder", { size: chosen, goal: goal ?? 0 });
  return (
    <Calculator title={t("plan:distances.work_out_distances")}>
      <div className="flex items-center gap-2">
        {t("plan:distances.a")}
        <select
          aria-label={t("plan:distances.size_of_the_animal")}
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
          className={FIELD}
        >
          <option value="small">{t("plan:distances.small")}</option>
          <option value="medium">{t("plan:distances.medium")}</option>
          <option value="large">{t("plan:distances.large")}</option>
        </select>
        {t("plan:distances.animal_up_to")}
        <NumberField
          label={t("plan:distances.strides_at_last")}
          value={goal}
          min={1}
          onChange={setGoal}
          unit={t("plan:distances.strides")}
        />
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">
              {t("plan:distances.values_strides", { values: values.join(" → ") })}
            </p>
            <Button
              onClick={() =>
                onFill(
                  values.map((strides) => ({
                    title: t("plan:distances.from_strides_strides", { strides }),
                    criterion: t("plan:distances.it_does_it_from_strides", { strides }),
                    raises: ["distance"],
                    quantity: {
                      name: "distance",
                      unit: t("plan:distances.strides"),
                      better: "more",
                      target: strides,
                    },
                  })),
                )
              }
            >
              {t("common:put_these_in_as_steps")}
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
