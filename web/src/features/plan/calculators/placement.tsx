import { useState } from "react";
import { Button } from "../../../components/button";
import type { PlanDocument } from "../../../domain/plan-document";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";

/** Rewards by place, to whole ones. */
export function PlacementCalculator({
  plan,
  onFill,
}: {
  plan: PlanDocument;
  onFill: (mix: Record<string, number>) => void;
}) {
  const [rewards, setRewards] = useState<number | undefined>(plan.rep_cap ?? 15);
  const mix = plan.placement ?? { off: 0.75, on: 0.25 };
  const budget = useCalculated<{ rewards: Record<string, number> }>("placement_budget", {
    rewards: rewards ?? 0,
    mix,
  });
  return (
    <Calculator title="Work out where the rewards go">
      <div className="flex items-center gap-2">
        of
        <NumberField label="Rewards to share out" value={rewards} min={1} onChange={setRewards} />
        rewards
      </div>
      <Answered query={budget}>
        {(answer) => (
          <>
            <p className="text-[15px]">
              {Object.entries(answer.rewards)
                .map(([place, n]) => `${n} ${place}`)
                .join(" · ")}
            </p>
            {!plan.placement && (
              <Button onClick={() => onFill({ off: 0.75, on: 0.25 })}>Use this mix</Button>
            )}
          </>
        )}
      </Answered>
    </Calculator>
  );
}
