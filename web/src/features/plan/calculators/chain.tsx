import { Button } from "../../../components/button";
import { Answered, Calculator, useCalculated } from "./calculator";
import { t } from "../../../words";

/** The order in which the parts of a chain are joined; fills the steps. */
export function ChainCalculator({
  parts,
  direction,
  onFill,
}: {
  parts: string[];
  direction: "forward" | "backward";
  onFill: (stages: string[][]) => void;
}) {
  const chain = useCalculated("chain_plan", { parts, direction });
  return (
    <Calculator title={t("plan:chain.work_out_the_order_of")}>
      <Answered query={chain}>
        {({ stages }) => (
          <>
            <ol className="list-decimal pl-5">
              {stages.map((stage) => (
                <li key={stage.join()}>{stage.join(" → ")}</li>
              ))}
            </ol>
            <Button onClick={() => onFill(stages)}>{t("common:put_these_in_as_steps")}</Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
