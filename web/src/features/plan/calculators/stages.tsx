import { useState } from "react";
import { Button } from "../../../components/button";
import { counted } from "../../../domain/times";
import { day } from "../../../domain/words";
import { Choice, FIELD, NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { t } from "../../../words";

const WEEKDAYS = [
  t("plan:stages.mo"),
  t("plan:stages.tu"),
  t("plan:stages.we"),
  t("plan:stages.th"),
  t("plan:stages.fr"),
  t("plan:stages.sa"),
  t("plan:stages.su"),
].map((words, n) => ({
  value: String(n),
  words,
}));

/** Steps that want weeks, laid on the calendar; fills the notes. */
export function StagesCalculator({
  names,
  onFill,
}: {
  names: string[];
  onFill: (lines: string[]) => void;
}) {
  const [start, setStart] = useState(() => new Date().toLocaleDateString("sv"));
  const [weeks, setWeeks] = useState<number | undefined>(2);
  const [times, setTimes] = useState<number | undefined>(4);
  const [rest, setRest] = useState<string[]>(["6"]);
  const schedule = useCalculated<{
    stages: { name: string; first: string; last: string; sessions: string[] }[];
  }>("stage_schedule", {
    names,
    start,
    weeks_a_stage: weeks ?? 0,
    sessions_a_week: times ?? 0,
    rest: rest.map(Number),
  });
  const line = (stage: { name: string; first: string; last: string; sessions: string[] }) =>
    t("plan:stages.first_to_last_name_sessionscount", {
      first: day(stage.first),
      last: day(stage.last),
      name: stage.name,
      sessionsCount: counted(stage.sessions.length, "session"),
    });
  return (
    <Calculator title={t("plan:stages.lay_the_steps_on_the")}>
      <div className="flex flex-wrap items-center gap-2">
        {t("common:from")}
        <input
          type="date"
          aria-label={t("plan:stages.first_day")}
          value={start}
          onChange={(event) => setStart(event.target.value)}
          className={FIELD}
        />
        <NumberField
          label={t("plan:stages.weeks_a_step")}
          value={weeks}
          step={0.5}
          unit={t("plan:stages.weeks_a_step_2")}
          onChange={setWeeks}
        />
        <NumberField
          label={t("plan:stages.sessions_a_week")}
          value={times}
          min={1}
          max={7}
          unit={t("plan:stages.sessions_a_week_2")}
          onChange={setTimes}
        />
      </div>
      <div>
        <p className="pb-1 text-soft">{t("plan:stages.days_of_rest")}</p>
        <Choice
          label={t("plan:stages.days_of_rest_2")}
          options={WEEKDAYS}
          chosen={rest}
          onChange={setRest}
        />
      </div>
      <Answered query={schedule}>
        {({ stages }) => (
          <>
            <ol className="list-decimal pl-5">
              {stages.map((stage, n) => (
                <li key={n}>{line(stage)}</li>
              ))}
            </ol>
            <Button onClick={() => onFill(stages.map(line))}>
              {t("plan:stages.write_it_into_the_notes")}
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
