import { useState } from "react";
import { Button } from "../../../components/button";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { t } from "../../../words";

/** How the help fades, rep by rep; fills the limit of lures. */
export function LureCalculator({ onFill }: { onFill: (lure_reps: number) => void }) {
  const [lures, setLures] = useState<number | undefined>(3);
  const fading = useCalculated("lure_fading", { lures: lures ?? 0 });
  return (
    <Calculator title={t("plan:lure.work_out_how_the_lure")}>
      <div className="flex items-center gap-2">
        <NumberField
          label={t("plan:lure.reps_with_food_in_the")}
          value={lures}
          onChange={setLures}
        />
        {t("plan:lure.with_food_in_the_hand")}
      </div>
      <Answered query={fading}>
        {({ levels }) => (
          <>
            <p>{runs(levels)}</p>
            <Button onClick={() => onFill(lures ?? 0)}>{t("plan:lure.use_this_limit")}</Button>
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
    .map(
      ([level, n]) =>
        `${n} ${level === "none" ? t("plan:lure.without_help") : level.replaceAll("_", " ")}`,
    )
    .join(" · ");
}
