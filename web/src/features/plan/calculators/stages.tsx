import { useState } from "react";
import { Button } from "../../../components/button";
import { counted } from "../../../domain/times";
import { day } from "../../../domain/words";
import { Choice, FIELD, NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";

const WEEKDAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"].map((words, n) => ({
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
    `${day(stage.first)} to ${day(stage.last)}: ${stage.name}, ${counted(stage.sessions.length, "session")}`;
  return (
    <Calculator title="Lay the steps on the calendar">
      <div className="flex flex-wrap items-center gap-2">
        from
        <input
          type="date"
          aria-label="First day"
          value={start}
          onChange={(event) => setStart(event.target.value)}
          className={FIELD}
        />
        <NumberField
          label="Weeks a step"
          value={weeks}
          step={0.5}
          unit="weeks a step"
          onChange={setWeeks}
        />
        <NumberField
          label="Sessions a week"
          value={times}
          min={1}
          max={7}
          unit="sessions a week"
          onChange={setTimes}
        />
      </div>
      <div>
        <p className="pb-1 text-soft">days of rest</p>
        <Choice label="Days of rest" options={WEEKDAYS} chosen={rest} onChange={setRest} />
      </div>
      <Answered query={schedule}>
        {({ stages }) => (
          <>
            <ol className="list-decimal pl-5">
              {stages.map((stage, n) => (
                <li key={n}>{line(stage)}</li>
              ))}
            </ol>
            <Button onClick={() => onFill(stages.map(line))}>Write it into the notes</Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}
