import { Answered, Calculator, useCalculated } from "./calculator";
import { t } from "../../../words";

/** New cue, a pause, then the old signal. */
export function CueCalculator() {
  const transfer = useCalculated("cue_transfer", {});
  return (
    <Calculator title={t("plan:cue.work_out_the_change_of")}>
      <Answered query={transfer}>
        {({ reps }) => (
          <ol className="num columns-2 text-[12.5px]">
            {reps.map((rep) => (
              <li key={rep.rep}>
                {rep.rep}:{" "}
                {rep.pause_s === null
                  ? t("plan:cue.new_cue_alone")
                  : t("plan:cue.pause_pause_s_s_old", {
                      pause_s: rep.pause_s,
                      old_signal: rep.old_signal,
                    })}
              </li>
            ))}
          </ol>
        )}
      </Answered>
    </Calculator>
  );
}
