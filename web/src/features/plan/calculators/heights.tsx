import { useState } from "react";
import { Button } from "../../../components/button";
import type { Step } from "../../../domain/plan-document";
import { FIELD, NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { Trans, t } from "../../../words";

/** Bar heights and what a jump of that height spans, as steps. */
export function HeightsCalculator({
  withers,
  onFill,
}: {
  /** The learner's height at the withers, cm. */
  withers: number | null;
  onFill: (steps: Partial<Step>[]) => void;
}) {
  const [final, setFinal] = useState<number | undefined>(60);
  const [percent, setPercent] = useState<number>();
  const [unit, setUnit] = useState<"cm" | "in">("cm");
  const isOfWithers = withers !== null && percent !== undefined;
  const ladder = useCalculated(
    isOfWithers ? "height_from_withers" : "height_ladder",
    isOfWithers ? { withers_cm: withers, share: percent / 100, unit } : { final: final ?? 0, unit },
  );
  const top = ladder.data?.values.at(-1);
  const span = useCalculated("jump_span", { height: top ?? final ?? 0 });
  return (
    <Calculator title={t("plan:heights.work_out_heights_and_spans")}>
      <div className="flex items-center gap-2">
        {t("plan:heights.final_height")}
        <NumberField
          label={t("plan:heights.final_height_2")}
          value={final}
          min={1}
          onChange={setFinal}
        />
        <select
          aria-label={t("plan:heights.unit")}
          value={unit}
          onChange={(event) => setUnit(event.target.value as "cm" | "in")}
          className={FIELD}
        >
          <option value="cm">{t("plan:heights.cm")}</option>
          <option value="in">{t("plan:heights.in")}</option>
        </select>
      </div>
      {withers !== null && (
        <label className="flex items-center gap-2">
          {t("plan:heights.of_its_withers", { withers })}
          <NumberField
            label={t("plan:heights.percent_of_its_withers")}
            value={percent}
            min={10}
            max={200}
            unit={t("plan:heights.percent")}
            onChange={setPercent}
          />
        </label>
      )}
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">
              {values.map((v) => +v.toFixed(2)).join(" → ")} {unit}
            </p>
            {span.data && (
              <p>
                <Trans
                  i18nKey="plan:heights.a_long_jump_of_that"
                  components={{ part: <span className="num" /> }}
                  values={{ value: +span.data.span.toFixed(2), unit }}
                />
              </p>
            )}
            <Button
              onClick={() =>
                onFill(
                  values.map((v) => ({
                    title: t("plan:heights.bar_at_value_unit", { value: +v.toFixed(2), unit }),
                    criterion: t("plan:heights.over_the_bar_at_value", {
                      value: +v.toFixed(2),
                      unit,
                    }),
                    raises: ["distance"],
                    quantity: { name: "height", unit, better: "more", target: v },
                  })),
                )
              }
            >
              {t("common:put_these_in_as_steps")}
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
