import { Link } from "react-router";

import { Button } from "../../components/button";
import {
  STAGE_KINDS,
  moved,
  stagesOfSteps,
  stepsOf,
  withStage,
  type Changes,
  type Stage,
} from "../../domain/plan-document";
import { Choice, FIELD, NumberField } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

const WEEKDAYS = [
  t("plan:stages.mo"),
  t("plan:stages.tu"),
  t("plan:stages.we"),
  t("plan:stages.th"),
  t("plan:stages.fr"),
  t("plan:stages.sa"),
  t("plan:stages.su"),
].map((words, n) => ({ value: String(n), words }));
const SMALL = "px-1 text-soft hover:text-ink disabled:opacity-30";

/** The stages that want weeks, and on which days one trains. */
export function Stages({ plan, set }: PartProps) {
  const stages = plan.stages ?? [];
  const calendar = plan.calendar ?? {};
  const put = (values: Changes<typeof calendar>) => {
    const next = Object.fromEntries(
      Object.entries({ ...calendar, ...values }).filter(([, value]) => value !== undefined),
    ) as typeof calendar;
    set({ calendar: Object.keys(next).length > 0 ? next : undefined });
  };
  const keep = (next: Stage[]) => set({ stages: next.length > 0 ? next : undefined });
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <label className="inline-flex items-center gap-1.5">
          {t("common:from")}
          <input
            type="date"
            aria-label={t("plan:stages.first_day")}
            value={calendar.begins ?? ""}
            onChange={(event) => put({ begins: event.target.value || undefined })}
            className={FIELD}
          />
        </label>
        <NumberField
          label={t("plan:stages.sessions_a_week")}
          value={calendar.a_week}
          min={1}
          max={70}
          unit={t("plan:stages.sessions_a_week_2")}
          onChange={(a_week) => put({ a_week })}
        />
        <NumberField
          label={t("plan:stages.sessions_a_day")}
          value={calendar.a_day}
          min={1}
          max={10}
          unit={t("plan:stages.a_day_at_most")}
          onChange={(a_day) => put({ a_day })}
        />
      </div>
      <div className="mt-2 flex items-center gap-2">
        <span className="text-soft">{t("plan:stages.days_of_rest")}</span>
        <Choice
          label={t("plan:stages.days_of_rest_2")}
          options={WEEKDAYS}
          chosen={(calendar.rest ?? []).map(String)}
          onChange={(chosen) => {
            // One day of the week stays for work.
            const rest = chosen.map(Number).sort().slice(0, 6);
            put({ rest: rest.length > 0 ? rest : undefined });
          }}
        />
      </div>
      <ol className="mt-2.5 space-y-2.5">
        {stages.map((stage, n) => (
          <li key={n} className="border-l border-line pl-2.5">
            <OneStage
              stage={stage}
              number={n + 1}
              steps={stepsOf(plan)}
              onChange={(values) => keep(withStage(stages, n, values))}
            />
            <span className="text-[13px]">
              <button
                type="button"
                aria-label={t("plan:stages.stage_n_earlier", { n: n + 1 })}
                disabled={n === 0}
                className={SMALL}
                onClick={() => keep(moved(stages, n, -1))}
              >
                ↑
              </button>
              <button
                type="button"
                aria-label={t("plan:stages.stage_n_later", { n: n + 1 })}
                disabled={n === stages.length - 1}
                className={SMALL}
                onClick={() => keep(moved(stages, n, 1))}
              >
                ↓
              </button>
              <button
                type="button"
                aria-label={t("plan:stages.take_stage_n_out", { n: n + 1 })}
                className={SMALL}
                onClick={() => keep(stages.filter((_, i) => i !== n))}
              >
                ×
              </button>
            </span>
          </li>
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Button
          className="h-7"
          onClick={() =>
            keep([...stages, { name: t("plan:stages.a_stage"), kind: "getting_used" }])
          }
        >
          {stages.length === 0 ? t("plan:stages.it_has_stages") : t("plan:stages.one_more_stage")}
        </Button>
        {stages.length === 0 && stepsOf(plan).length > 0 && (
          <Button className="h-7" onClick={() => keep(stagesOfSteps(plan))}>
            {t("plan:stages.a_stage_a_step")}
          </Button>
        )}
        <Link to="/calendar" className="underline underline-offset-3">
          {t("plan:stages.to_the_calendar")}
        </Link>
      </div>
    </>
  );
}

function OneStage({
  stage,
  number,
  steps,
  onChange,
}: {
  stage: Stage;
  number: number;
  steps: { key: string; title?: string }[];
  onChange: (values: Changes<Stage>) => void;
}) {
  const kind = STAGE_KINDS.find((one) => one.kind === (stage.kind ?? "own"));
  return (
    <div className="space-y-1.5">
      <div className="space-y-1.5">
        <input
          aria-label={t("plan:stages.name_of_stage_n", { n: number })}
          value={stage.name}
          maxLength={200}
          onChange={(event) => onChange({ name: event.target.value || t("plan:stages.a_stage") })}
          className={`${FIELD} w-full font-semibold`}
        />
        <select
          aria-label={t("plan:stages.what_stage_n_is_for", { n: number })}
          value={stage.kind ?? "own"}
          onChange={(event) => onChange({ kind: event.target.value as NonNullable<Stage["kind"]> })}
          className={`${FIELD} w-full`}
        >
          {STAGE_KINDS.map(({ kind, words }) => (
            <option key={kind} value={kind}>
              {words}
            </option>
          ))}
        </select>
      </div>
      <p className="flex flex-wrap items-center gap-x-3 gap-y-1.5">
        <NumberField
          label={t("plan:stages.least_weeks_of_stage_n", { n: number })}
          value={stage.least_weeks}
          max={52}
          step={0.5}
          unit={t("plan:stages.weeks_at_least")}
          onChange={(least_weeks) => onChange({ least_weeks })}
        />
        <NumberField
          label={t("plan:stages.goes_of_stage_n", { n: number })}
          value={stage.goes}
          min={1}
          max={200}
          unit={t("plan:stages.sessions_at_least")}
          onChange={(goes) => onChange({ goes })}
        />
      </p>
      <label className="block">
        <span className="block pb-1 text-soft">{t("plan:stages.until")}</span>
        <select
          aria-label={t("plan:stages.step_that_ends_stage_n", { n: number })}
          value={stage.until ?? ""}
          onChange={(event) => onChange({ until: event.target.value || undefined })}
          className={`${FIELD} w-full`}
        >
          <option value="">{t("plan:stages.its_weeks_and_sessions_are_over")}</option>
          {steps.map((step) => (
            <option key={step.key} value={step.key}>
              {t("plan:stages.the_judgement_goes_on_from", {
                title: step.title || t("common:not_named_yet"),
              })}
            </option>
          ))}
        </select>
      </label>
      {kind && <p className="text-[13px] text-soft">{kind.practice}</p>}
    </div>
  );
}
