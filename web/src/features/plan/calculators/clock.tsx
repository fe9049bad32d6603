import { useState } from "react";
import { Button } from "../../../components/button";
import { ClockFace } from "../clock-face";
import { FIELD } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";

/** Where around the animal, drawn; fills the condition `clock`. */
export function ClockCalculator({
  onFill,
}: {
  onFill: (condition: { name: string; levels: string[] }) => void;
}) {
  const [easy, setEasy] = useState<"left" | "right">("right");
  const orders = useCalculated<{ stages: { positions: number[] }[] }>("clock_orders", {
    reps_per_stage: 4,
    easy_side: easy,
  });
  return (
    <Calculator title="Work out places around the animal">
      <label className="flex items-center gap-2">
        the easy side is
        <select
          aria-label="Easy side on the clock"
          value={easy}
          onChange={(event) => setEasy(event.target.value as "left" | "right")}
          className={FIELD}
        >
          <option>right</option>
          <option>left</option>
        </select>
      </label>
      <Answered query={orders}>
        {({ stages }) => (
          <div className="flex items-center gap-4">
            <ClockFace stages={stages.map((s) => [...new Set(s.positions)])} />
            <div>
              <ol className="list-decimal pl-5">
                {stages.map((stage, n) => (
                  <li key={n}>
                    <span className="num">{stage.positions.join(" · ")}</span> o'clock
                  </li>
                ))}
              </ol>
              <Button
                className="mt-2"
                onClick={() =>
                  onFill({
                    name: "clock",
                    levels: [...new Set(stages.flatMap((s) => s.positions.map(String)))],
                  })
                }
              >
                Vary the clock
              </Button>
            </div>
          </div>
        )}
      </Answered>
    </Calculator>
  );
}
