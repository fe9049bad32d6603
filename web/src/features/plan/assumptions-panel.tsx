import { useId } from "react";

import { t } from "../../words";
import type { Asked, Assumed, Assumptions } from "./use-rehearsals";

const NAMES = [
  "start",
  "learning",
  "carry",
  "loss",
  "forgetting",
  "fatigue",
  "frustration",
  "side_bias",
  "best",
  "rep_s",
] as const satisfies readonly Assumed[];
/** What a logbook can tell, as the server says it too. */
const TOLD: ReadonlySet<Assumed> = new Set(["start", "learning", "carry", "loss", "forgetting"]);

interface AssumptionsPanelProps {
  assumptions: Assumptions;
  asked: Asked;
  change: (changes: Partial<Asked>) => void;
}

/** Everything that is assumed, each to be changed: of a session, and of the learner. */
export function AssumptionsPanel({ assumptions, asked, change }: AssumptionsPanelProps) {
  const { course, fitted, ranges, learner } = assumptions;
  const told = asked.fromLogbook && fitted ? fitted : null;
  return (
    <section aria-labelledby="assumed" className="text-[14px]">
      <h2 id="assumed" className="text-[16px] font-semibold">
        {t("plan:rehearsal.what_is_assumed")}
      </h2>
      <h3 className="mt-3 font-semibold">{t("plan:rehearsal.of_a_session")}</h3>
      <Slider
        label={t("plan:rehearsal.minutes_at_most")}
        value={(asked.capS ?? course.cap_s) / 60}
        low={1}
        high={30}
        step={0.5}
        onChange={(value) => change({ capS: value * 60 })}
      />
      <Slider
        label={t("plan:rehearsal.reps_at_most")}
        value={Math.min(asked.repCap ?? course.rep_cap, 100)}
        low={3}
        high={100}
        step={1}
        onChange={(value) => change({ repCap: value })}
      />
      <Slider
        label={t("plan:rehearsal.days_between")}
        value={asked.daysBetween ?? course.days_between}
        low={0.5}
        high={14}
        step={0.5}
        onChange={(value) => change({ daysBetween: value })}
      />
      <h3 className="mt-4 font-semibold">{t("plan:rehearsal.of_the_learner")}</h3>
      {fitted ? (
        <label className="mt-1 flex items-start gap-2">
          <input
            type="checkbox"
            checked={asked.fromLogbook}
            onChange={(event) => change({ fromLogbook: event.target.checked })}
            className="mt-1"
          />
          <span>{t("plan:rehearsal.from_the_logbook", { reps: fitted.reps })}</span>
        </label>
      ) : (
        <p className="text-soft">{t("plan:rehearsal.logbook_tells_too_little")}</p>
      )}
      {NAMES.map((name) => {
        const [low = 0, high = 1] = ranges[name] ?? [];
        const isTold = told !== null && TOLD.has(name);
        return (
          <Slider
            key={name}
            label={t(`plan:rehearsal.assume_${name}`)}
            value={isTold ? told.learner[name] : (asked.learner[name] ?? learner[name])}
            low={low}
            high={high}
            step={(high - low) / 200}
            unit={name === "rep_s" ? "s" : ""}
            {...(isTold && { between: [told.low[name], told.high[name]] as [number, number] })}
            disabled={isTold}
            onChange={(value) => change({ learner: { ...asked.learner, [name]: value } })}
          />
        );
      })}
    </section>
  );
}

interface SliderProps {
  label: string;
  value: number;
  low: number;
  high: number;
  step: number;
  unit?: string;
  /** The 95 % interval, where it was found and not set. */
  between?: [number, number];
  disabled?: boolean;
  onChange: (value: number) => void;
}

function Slider(props: SliderProps) {
  const { label, value, low, high, step, unit = "", between, disabled, onChange } = props;
  const id = useId();
  const write = (x: number) => Number(x.toPrecision(2)).toString();
  return (
    <div className="mt-1.5">
      <label htmlFor={id} className="flex justify-between gap-3">
        <span>{label}</span>
        <span className="num whitespace-nowrap">
          {write(value)}
          {unit && ` ${unit}`}
          {between && (
            <span className="text-[12px] text-soft">
              {" "}
              {write(between[0])}–{write(between[1])}
            </span>
          )}
        </span>
      </label>
      <input
        id={id}
        type="range"
        min={low}
        max={high}
        step={step}
        value={value}
        disabled={disabled}
        onChange={(event) => onChange(Number(event.target.value))}
        className="block w-full accent-ink"
      />
    </div>
  );
}
