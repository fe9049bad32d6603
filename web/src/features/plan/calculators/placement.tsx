import { useState } from "react";
import { Button } from "../../../components/button";
import type { PlanDocument } from "../../../domain/plan-document";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { t } from "../../../words";

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
  const budget = useCalculated("placement_budget", {
    rewards: rewards ?? 0,
    mix,
  });
  return (
    <Calculator title={t("plan:placement.work_out_where_the_rewards")}>
      <div className="flex items-center gap-2">
        {t("plan:placement.of")}
        <NumberField
          label={t("plan:placement.rewards_to_share_out")}
          value={rewards}
          min={1}
          onChange={setRewards}
        />
        {t("plan:placement.rewards")}
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
              <Button onClick={() => onFill({ off: 0.75, on: 0.25 })}>
                {t("plan:placement.use_this_mix")}
              </Button>
            )}
          </>
        )}
      </Answered>
    </Calculator>
  );
}
