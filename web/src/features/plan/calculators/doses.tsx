import { useState } from "react";
import { Button } from "../../../components/button";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";

/** Blocks and breaks; fills the session's limit. */
export function DosesCalculator({ onFill }: { onFill: (session_cap_s: number) => void }) {
  const [minutes, setMinutes] = useState<number | undefined>(5);
  const dose = useCalculated<{ blocks_s: number[]; break_s: number; over_practice: boolean }>(
    "dose_plan",
    { work_s: (minutes ?? 0) * 60 },
  );
  return (
    <Calculator title="Work out blocks and breaks">
      <div className="flex items-center gap-2">
        <NumberField label="Minutes of work" value={minutes} step={0.5} onChange={setMinutes} />
        minutes of work in all
      </div>
      <Answered query={dose}>
        {({ blocks_s, break_s, over_practice }) => (
          <>
            <p>
              {blocks_s.length} {blocks_s.length === 1 ? "block" : "blocks"} of{" "}
              <span className="num">{+((blocks_s[0] ?? 0) / 60).toFixed(2)}</span> min
              {break_s > 0 && `, ${+(break_s / 60).toFixed(1)} min of break between`}
              {over_practice && <strong className="text-marker"> · over common practice</strong>}
            </p>
            <Button onClick={() => onFill(Math.round(blocks_s[0] ?? 150))}>
              Limit a session to one block
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
