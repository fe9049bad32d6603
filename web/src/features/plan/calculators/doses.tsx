import { useState } from "react";
import { Button } from "../../../components/button";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { nounFor } from "../../../domain/times";
import { Trans, t } from "../../../words";

/** Blocks and breaks; fills the session's limit. */
export function DosesCalculator({ onFill }: { onFill: (session_cap_s: number) => void }) {
  const [minutes, setMinutes] = useState<number | undefined>(5);
  const dose = useCalculated("dose_plan", { work_s: (minutes ?? 0) * 60 });
  return (
    <Calculator title={t("plan:doses.work_out_blocks_and_breaks")}>
      <div className="flex items-center gap-2">
        <NumberField
          label={t("plan:doses.minutes_of_work")}
          value={minutes}
          step={0.5}
          onChange={setMinutes}
        />
        {t("plan:doses.minutes_of_work_in_all")}
      </div>
      <Answered query={dose}>
        {({ blocks_s, break_s, over_practice }) => (
          <>
            <p>
              <Trans
                i18nKey="plan:doses.blocks_scount_which_of_value"
                components={{ part: <span className="num" /> }}
                values={{
                  blocks_sCount: blocks_s.length,
                  which: nounFor(blocks_s.length, "block"),
                  value: +((blocks_s[0] ?? 0) / 60).toFixed(2),
                }}
              />
              {break_s > 0 &&
                t("plan:doses.value_min_of_break_between", { value: +(break_s / 60).toFixed(1) })}
              {over_practice && (
                <strong className="text-marker"> {t("plan:doses.over_common_practice")}</strong>
              )}
            </p>
            <Button onClick={() => onFill(Math.round(blocks_s[0] ?? 150))}>
              {t("plan:doses.limit_a_session_to_one_x")}
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
