import { useState } from "react";
import { Button } from "../../../components/button";
import type { Step } from "../../../domain/plan-document";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import type { LadderAnswer } from "./ladder-answer";

/** Seconds to hold, from the first to the goal, as steps; and rep by rep around a mean. */
export function DurationsCalculator({ onFill }: { onFill: (steps: Partial<Step>[]) => void }) {
  const [start, setStart] = useState<number | undefined>(1);
  const [goal, setGoal] = useState<number | undefined>(8);
  const [factor, setFactor] = useState<number | undefined>(1.5);
  const ladder = useCalculated<LadderAnswer>("numeric_ladder", {
    start: start ?? 0,
    goal: goal ?? 0,
    factor: factor ?? 0,
  });
  const reps = useCalculated<LadderAnswer>("duration_plan", {
    mean_s: start ?? 0,
    reps: 8,
    seed: 1,
  });
  return (
    <Calculator title="Work out durations">
      <div className="flex flex-wrap items-center gap-2">
        from
        <NumberField label="First seconds" value={start} step={0.5} onChange={setStart} />
        to
        <NumberField label="Last seconds" value={goal} step={0.5} onChange={setGoal} />
        s, each ×
        <NumberField label="Factor" value={factor} min={1.05} step={0.05} onChange={setFactor} />
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">{values.map((v) => +v.toFixed(2)).join(" → ")} s</p>
            <Button
              onClick={() =>
                onFill(
                  values.map((v) => ({
                    title: `Held ${+v.toFixed(2)} s`,
                    criterion: `It lasts ${+v.toFixed(2)} s.`,
                    raises: ["duration"],
                    mark_at: "hold",
                    hold_s: +v.toFixed(2),
                  })),
                )
              }
            >
              Put these in as steps
            </Button>
          </>
        )}
      </Answered>
      {reps.data && (
        <p>
          Around {start} s, rep by rep:{" "}
          <span className="num">{reps.data.values.map((v) => v.toFixed(1)).join(" · ")}</span>
        </p>
      )}
    </Calculator>
  );
}
