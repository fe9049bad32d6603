import { Button } from "../../components/button";
import { Asked } from "./asked";
import { DistancesCalculator } from "./calculators/distances";
import { DurationsCalculator } from "./calculators/durations";
import { HeightsCalculator } from "./calculators/heights";
import { Choice, FIELD, Line, NumberField } from "./fields";
import {
  DIMENSIONS,
  MARK_AT,
  stepsOf,
  WAYS,
  withFallback,
  withMoved,
  withNewStep,
  withoutStep,
  withSplit,
  withStep,
  type Changes,
  type PlanDocument,
  type RemarkOut,
  type Step,
} from "../../domain/plan-document";
import { t } from "../../words";

interface StepPanelProps {
  plan: PlanDocument;
  step: Step;
  remarks: RemarkOut[];
  /** Whether reps were filmed at it: it can be retired then, not removed. */
  isFilmed: boolean;
  /** The learner's size, "" where nobody said, and its height at the withers in cm. */
  size: string;
  withers: number | null;
  change: (plan: PlanDocument) => void;
  choose: (key: string | null) => void;
}

/** One step, opened: when a rep fits, what is new in it, when the marker falls, the way back. */
export function StepPanel({
  plan,
  step,
  remarks,
  isFilmed,
  size,
  withers,
  change,
  choose,
}: StepPanelProps) {
  const steps = stepsOf(plan);
  const place = steps.findIndex((s) => s.key === step.key);
  const set = (values: Changes<Step>) => change(withStep(plan, step.key, values));
  const at = plan.approximations?.findIndex((s) => s.key === step.key) ?? -1;
  const mine = remarks.filter((r) => r.place === `approximations[${at}]`);
  const of = (...codes: string[]) => mine.filter((r) => codes.includes(r.code));

  const split = () => {
    const made = withSplit(plan, step.key);
    change(made.plan);
    choose(made.key);
  };
  const mend = (remark: RemarkOut) => {
    if (remark.mend === "split_step") split();
    else if (remark.mend === "add_fallback") change(withFallback(plan, step.key));
  };
  const addSteps = (made: Partial<Step>[]) => {
    let next = plan;
    let after = step.key;
    for (const values of made) ({ plan: next, key: after } = withNewStep(next, after, values));
    change(next);
  };

  return (
    <section aria-label={t("plan:step_panel.step_place", { place: place + 1 })}>
      <div className="flex items-baseline justify-between gap-2 pb-2 text-soft">
        <span>
          {t("plan:step_panel.step_place_of_stepscount", {
            place: place + 1,
            stepsCount: steps.length,
          })}
        </span>
        <span className="flex gap-3">
          <button
            type="button"
            className="underline underline-offset-3 disabled:opacity-40"
            disabled={place <= 0}
            onClick={() => change(withMoved(plan, step.key, -1))}
          >
            {t("plan:step_panel.earlier")}
          </button>
          <button
            type="button"
            className="underline underline-offset-3 disabled:opacity-40"
            disabled={place >= steps.length - 1}
            onClick={() => change(withMoved(plan, step.key, 1))}
          >
            {t("plan:step_panel.later")}
          </button>
          <button
            type="button"
            className="underline underline-offset-3"
            onClick={() => choose(null)}
          >
            {t("plan:step_panel.whole_plan")}
          </button>
        </span>
      </div>
      <input
        aria-label={t("plan:step_panel.name_of_the_step")}
        placeholder={t("plan:step_panel.name_of_the_step_such")}
        value={step.title ?? ""}
        maxLength={400}
        onChange={(event) => set({ title: event.target.value })}
        className="mb-2 w-full border-b border-transparent bg-transparent text-[18px] font-semibold hover:border-line focus:border-ink"
      />
      <Line
        label={t("plan:step_panel.fits_when")}
        remarks={of("no_criterion", "not_on_film", "same_title", "two_conditions")}
        onMend={mend}
      >
        <textarea
          aria-label={t("plan:step_panel.a_rep_fits_when")}
          placeholder={t("plan:step_panel.what_another_person_could_see")}
          value={step.criterion ?? ""}
          maxLength={4000}
          rows={2}
          onChange={(event) => set({ criterion: event.target.value || undefined })}
          className={`${FIELD} field-sizing-content h-auto min-h-13 w-full resize-none py-1`}
        />
      </Line>
      <Line
        label={t("plan:step_panel.one_thing_raised")}
        remarks={of("two_dimensions")}
        onMend={mend}
      >
        <Choice
          label={t("plan:step_panel.one_thing_raised")}
          options={DIMENSIONS.map((d) => ({ value: d.dimension, words: d.words }))}
          chosen={step.raises ?? []}
          onChange={(raises) => set({ raises })}
        />
        {step.raises?.includes("duration") && <DurationsCalculator onFill={addSteps} />}
        {step.raises?.includes("distance") && (
          <>
            <HeightsCalculator withers={withers} onFill={addSteps} />
            <DistancesCalculator size={size} onFill={addSteps} />
          </>
        )}
      </Line>
      <Line label={t("plan:step_panel.marker_falls")}>
        <div className="flex flex-wrap items-center gap-1.5">
          <Choice
            one
            label={t("plan:step_panel.marker_falls")}
            options={MARK_AT.map((m) => ({ value: m.at, words: m.words }))}
            chosen={[step.mark_at ?? "onset"]}
            onChange={([at]) => set({ mark_at: at ?? "onset" })}
          />
          {step.mark_at === "hold" && (
            <NumberField
              label={t("plan:step_panel.held_for_seconds")}
              value={step.hold_s}
              min={0.1}
              max={3600}
              step={0.1}
              unit="s"
              onChange={(hold_s) => set({ hold_s: hold_s ?? 1 })}
            />
          )}
        </div>
      </Line>
      <Line
        label={t("plan:step_panel.if_it_fails")}
        remarks={of("no_fallback", "fallback_not_easier")}
        onMend={mend}
      >
        <label className="flex items-center gap-2">
          {t("plan:step_panel.back_to")}
          <select
            aria-label={t("plan:step_panel.back_to_2")}
            value={step.fallback ?? ""}
            onChange={(event) => set({ fallback: event.target.value || undefined })}
            className={`${FIELD} min-w-0 flex-1`}
          >
            <option value="">{place === 0 ? t("plan:step_panel.nothing_easier") : "–"}</option>
            {steps.slice(0, Math.max(0, place)).map((other) => (
              <option key={other.key} value={other.key}>
                {other.title || t("common:not_named_yet")}
              </option>
            ))}
          </select>
        </label>
      </Line>
      <Asked plan={plan} step={step} of={of} set={set} change={change} />
      <Line label={t("plan:step_panel.way")}>
        <select
          aria-label={t("plan:step_panel.way_of_this_step")}
          value={step.way ?? ""}
          onChange={(event) => set({ way: (event.target.value || undefined) as Step["way"] })}
          className={`${FIELD} w-full`}
        >
          <option value="">{t("common:as_the_plan_says")}</option>
          {WAYS.map((w) => (
            <option key={w.way} value={w.way}>
              {w.words}
            </option>
          ))}
        </select>
      </Line>
      <div className="flex flex-wrap gap-2 border-t border-line pt-3">
        <Button onClick={split}>{t("plan:step_panel.split_in_two_x")}</Button>
        {isFilmed ? (
          <Button
            onClick={() => {
              change(withStep(plan, step.key, { retired: true }));
              choose(null);
            }}
          >
            {t("plan:step_panel.retire_it")}
          </Button>
        ) : (
          <Button
            onClick={() => {
              change(withoutStep(plan, step.key));
              choose(null);
            }}
          >
            {t("plan:step_panel.take_it_out")}
          </Button>
        )}
      </div>
    </section>
  );
}
