import { useState } from "react";
import { Button } from "../../../components/button";
import type { Step } from "../../../domain/plan-document";
import { FIELD, NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import type { LadderAnswer } from "./ladder-answer";

/** Bar heights and what a jump of that height spans, as steps. */
export function HeightsCalculator({ onFill }: { onFill: (steps: Partial<Step>[]) => void }) {
  const [final, setFinal] = useState<number | undefined>(60);
  const [unit, setUnit] = useState<"cm" | "in">("cm");
  const ladder = useCalculated<LadderAnswer>("height_ladder", { final: final ?? 0, unit });
  const span = useCalculated<{ span: number }>("jump_span", { height: final ?? 0 });
  return (
    <Calculator title="Work out heights and spans">
      <div className="flex items-center gap-2">
        final height
        <NumberField label="Final height" value={final} min={1} onChange={setFinal} />
        <select
          aria-label="Unit"
          value={unit}
          onChange={(event) => setUnit(event.target.value as "cm" | "in")}
          className={FIELD}
        >
          <option>cm</option>
          <option>in</option>
        </select>
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">
              {values.map((v) => +v.toFixed(2)).join(" → ")} {unit}
            </p>
            {span.data && (
              <p>
                A long jump of that height spans{" "}
                <span className="num">
                  {+span.data.span.toFixed(2)} {unit}
                </span>
                .
              </p>
            )}
            <Button
              onClick={() =>
                onFill(
                  values.map((v) => ({
                    title: `Bar at ${+v.toFixed(2)} ${unit}`,
                    criterion: `Over the bar at ${+v.toFixed(2)} ${unit}.`,
                    raises: ["distance"],
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
