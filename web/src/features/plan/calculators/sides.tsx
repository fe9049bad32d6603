import { useState } from "react";
import { Button } from "../../../components/button";
import { FIELD } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { t } from "../../../words";

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
  const sides = useCalculated("side_allotment", { reps: reps ?? 12, easy, weak });
  return (
    <Calculator title={t("plan:sides.work_out_sides")}>
      <label className="flex items-center gap-2">
        {t("plan:sides.the_easy_side_is")}
        <select
          aria-label={t("plan:sides.easy_side")}
          value={easy}
          onChange={(event) => setEasy(event.target.value as "left" | "right")}
          className={FIELD}
        >
          <option value="left">{t("plan:sides.left")}</option>
          <option value="right">{t("plan:sides.right")}</option>
        </select>
      </label>
      <Answered query={sides}>
        {({ blocks }) => (
          <>
            <p className="num">
              {blocks
                .map(
                  (b) =>
                    `${b.reps} ${b.side === "left" ? t("plan:sides.left") : t("plan:sides.right")}`,
                )
                .join(" · ")}
            </p>
            <Button onClick={() => onFill({ name: "side", levels: [easy, weak] })}>
              {t("plan:sides.vary_the_side")}
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
