import { useState } from "react";
import { Button } from "../../../components/button";
import { FIELD } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";

/** Reps a side; fills the condition `side`. */
export function SidesCalculator({
  reps,
  onFill,
}: {
  reps: number | undefined;
  onFill: (condition: { name: string; levels: string[] }) => void;
}) {
  const [easy, setEasy] = useState<"left" | "right">("left");
  const weak = easy === "left" ? "right" : "left";
  const sides = useCalculated<{
    blocks: { side: string; reps: number }[];
    totals: Record<string, number>;
  }>("side_allotment", { reps: reps ?? 12, easy, weak });
  return (
    <Calculator title="Work out sides">
      <label className="flex items-center gap-2">
        the easy side is
        <select
          aria-label="Easy side"
          value={easy}
          onChange={(event) => setEasy(event.target.value as "left" | "right")}
          className={FIELD}
        >
          <option>left</option>
          <option>right</option>
        </select>
      </label>
      <Answered query={sides}>
        {({ blocks }) => (
          <>
            <p className="num">{blocks.map((b) => `${b.reps} ${b.side}`).join(" · ")}</p>
            <Button onClick={() => onFill({ name: "side", levels: [easy, weak] })}>
              Vary the side
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
