import { useState } from "react";
import { Button } from "../../../components/button";
import type { Step } from "../../../domain/plan-document";
import { FIELD, NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import type { LadderAnswer } from "./ladder-answer";

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
  const ladder = useCalculated<LadderAnswer>("distance_ladder", { size: chosen, goal: goal ?? 0 });
  return (
    <Calculator title="Work out distances">
      <div className="flex items-center gap-2">
        a
        <select
          aria-label="Size of the animal"
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
          className={FIELD}
        >
          <option>small</option>
          <option>medium</option>
          <option>large</option>
        </select>
        animal, up to
        <NumberField
          label="Strides at last"
          value={goal}
          min={1}
          onChange={setGoal}
          unit="strides"
        />
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">{values.join(" → ")} strides</p>
            <Button
              onClick={() =>
                onFill(
                  values.map((strides) => ({
                    title: `From ${strides} strides`,
                    criterion: `It does it from ${strides} strides away.`,
                    raises: ["distance"],
                    quantity: {
                      name: "distance",
                      unit: "strides",
                      better: "more",
                      target: strides,
                    },
                  })),
                )
              }
            >
              Put these in as steps
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
