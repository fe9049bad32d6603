import { Answered, Calculator, useCalculated } from "./calculator";

/** New cue, a pause, then the old signal. */
export function CueCalculator() {
  const transfer = useCalculated<{
    reps: { rep: number; pause_s: number | null; old_signal: string }[];
  }>("cue_transfer", {});
  return (
    <Calculator title="Work out the change of cue">
      <Answered query={transfer}>
        {({ reps }) => (
          <ol className="num columns-2 text-[12.5px]">
            {reps.map((rep) => (
              <li key={rep.rep}>
                {rep.rep}:{" "}
                {rep.pause_s === null
                  ? "new cue alone"
                  : `pause ${rep.pause_s} s, ${rep.old_signal}`}
              </li>
            ))}
          </ol>
        )}
      </Answered>
    </Calculator>
  );
}
