import { useState } from "react";
import { Button } from "../../../components/button";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";

/** How the help fades, rep by rep; fills the limit of lures. */
export function LureCalculator({ onFill }: { onFill: (lure_reps: number) => void }) {
  const [lures, setLures] = useState<number | undefined>(3);
  const fading = useCalculated<{ levels: string[] }>("lure_fading", { lures: lures ?? 0 });
  return (
    <Calculator title="Work out how the lure fades">
      <div className="flex items-center gap-2">
        <NumberField label="Reps with food in the hand" value={lures} onChange={setLures} />
        with food in the hand
      </div>
      <Answered query={fading}>
        {({ levels }) => (
          <>
            <p>{runs(levels)}</p>
            <Button onClick={() => onFill(lures ?? 0)}>Use this limit</Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** Runs of the same word: `3 food lure · 5 empty hand`. */
function runs(levels: string[]): string {
  const counted: [string, number][] = [];
  for (const level of levels) {
    const last = counted.at(-1);
    if (last?.[0] === level) last[1]++;
    else counted.push([level, 1]);
  }
  return counted
    .map(([level, n]) => `${n} ${level === "none" ? "without help" : level.replaceAll("_", " ")}`)
    .join(" · ");
}
