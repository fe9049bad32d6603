import { Button } from "../../components/button";
import { percent } from "../../domain/times";
import { t } from "../../words";
import { SpreadBar } from "./spread-bar";
import type { Rehearsed } from "./use-rehearsals";

const BAR_PX = 220;

interface RehearsedStepsProps {
  rehearsed: Rehearsed;
  titles: Record<string, string>;
  /** The same with one more step, and before which; null where none is tried. */
  between: { step: string; rehearsed: Rehearsed | undefined } | null;
  onBetween: (step: string | null) => void;
}

/** Step by step: which one is the steepest, and what one more before it would change. */
export function RehearsedSteps(props: RehearsedStepsProps) {
  const { rehearsed, titles, between, onBetween } = props;
  const { steps, steepest } = rehearsed.rehearsal;
  const most = Math.max(...steps.map((step) => step.reps.high), 1);
  const titleOf = (key: string) => titles[key] ?? key;
  return (
    <section aria-labelledby="by-step" className="mt-9 border-t border-ink pt-3">
      <h2 id="by-step" className="text-[16px] font-semibold">
        {t("plan:rehearsal.the_steepest_is", { step: titleOf(steepest) })}
      </h2>
      <p className="text-[13px] text-soft">{t("plan:rehearsal.reps_at_each_step")}</p>
      <ol className="mt-2">
        {steps.map((step, place) => (
          <li
            key={step.step}
            className="grid grid-cols-[11rem_auto_2.5rem_1fr_auto] items-center gap-3 border-b border-hair py-1.5 max-md:grid-cols-1 max-md:gap-0.5"
          >
            <span className={step.step === steepest ? "font-semibold" : ""}>
              {titleOf(step.step)}
            </span>
            <SpreadBar
              spread={step.reps}
              most={most}
              width={BAR_PX}
              strong={step.step === steepest}
            />
            <span className="num text-right max-md:text-left">{Math.round(step.reps.median)}</span>
            <span className="text-[13px] text-soft">
              {step.carry !== null &&
                t("plan:rehearsal.carried_over", { share: percent(step.carry) })}
              {step.fell_back.count > 0 &&
                ` · ${t("plan:rehearsal.fell_back_in", { share: percent(step.fell_back.share ?? 0) })}`}
            </span>
            {place > 0 && (
              <Button
                look="quiet"
                aria-pressed={between?.step === step.step}
                onClick={() => onBetween(between?.step === step.step ? null : step.step)}
              >
                {t("plan:rehearsal.try_one_between")}
              </Button>
            )}
          </li>
        ))}
      </ol>
      {between && (
        <p role="status" className="mt-3 max-w-[75ch]">
          {between.rehearsed
            ? t("plan:rehearsal.with_one_between", {
                step: titleOf(between.step),
                before: Math.round(rehearsed.rehearsal.reps.median),
                after: Math.round(between.rehearsed.rehearsal.reps.median),
                fellBefore: Math.round(rehearsed.rehearsal.failed_raises.median),
                fellAfter: Math.round(between.rehearsed.rehearsal.failed_raises.median),
              })
            : t("plan:rehearsal.being_rehearsed")}
        </p>
      )}
    </section>
  );
}
