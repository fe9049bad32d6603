import { useState } from "react";
import { Button } from "../../../components/button";
import { ClockFace } from "../clock-face";
import { FIELD } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { Trans, t } from "../../../words";

/** Where around the animal, drawn; fills the condition `clock`. */
export function ClockCalculator({
  onFill,
}: {
  onFill: (condition: { name: string; levels: string[] }) => void;
}) {
  const [easy, setEasy] = useState<"left" | "right">("right");
  const orders = useCalculated("clock_orders", {
    reps_per_stage: 4,
    easy_side: easy,
  });
  return (
    <Calculator title={t("plan:clock.work_out_places_around_the")}>
      <label className="flex items-center gap-2">
        {t("plan:clock.the_easy_side_is")}
        <select
          aria-label={t("plan:clock.easy_side_on_the_clock")}
          value={easy}
          onChange={(event) => setEasy(event.target.value as "left" | "right")}
          className={FIELD}
        >
          <option value="right">{t("plan:clock.right")}</option>
          <option value="left">{t("plan:clock.left")}</option>
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
                    <Trans
                      i18nKey="plan:clock.positions_oclock"
                      components={{ part: <span className="num" /> }}
                      values={{ positions: stage.positions.join(" · ") }}
                    />
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
                {t("plan:clock.vary_the_clock")}
              </Button>
            </div>
          </div>
        )}
      </Answered>
    </Calculator>
  );
}
