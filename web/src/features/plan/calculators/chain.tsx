import { Button } from "../../../components/button";
import { Answered, Calculator, useCalculated } from "./calculator";

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
  const chain = useCalculated<{ stages: string[][] }>("chain_plan", { parts, direction });
  return (
    <Calculator title="Work out the order of joining">
      <Answered query={chain}>
        {({ stages }) => (
          <>
            <ol className="list-decimal pl-5">
              {stages.map((stage) => (
                <li key={stage.join()}>{stage.join(" → ")}</li>
              ))}
            </ol>
            <Button onClick={() => onFill(stages)}>Put these in as steps</Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
