import { useState, type FormEvent } from "react";

import { PaperDialog } from "../../components/paper-dialog";
import { Button } from "../../components/button";
import { freshId, type PlanBody, type PlanStep } from "../../domain/marks";
import type { Marking } from "./use-marking";
import { t } from "../../words";

interface Row extends PlanStep {
  title: string;
}

/** The school that judges; none is an empty word. */
type Kind = NonNullable<PlanBody["rule"]>["kind"] | "";

const FIELD = "h-8 rounded border border-line bg-paper px-2";
const MARK_AT = [
  { value: "onset", words: t("bench:steps_dialog.when_it_begins") },
  { value: "hold", words: t("bench:steps_dialog.after_it_is_held_for") },
  { value: "offset", words: t("bench:steps_dialog.when_it_ends") },
] as const;
const RULES: { kind: Kind; words: string }[] = [
  { kind: "", words: t("bench:steps_dialog.no_rule_yet") },
  { kind: "run", words: t("bench:steps_dialog.five_in_a_row") },
  { kind: "share", words: t("bench:steps_dialog.eight_of_the_last_ten") },
  { kind: "block", words: t("bench:steps_dialog.a_whole_block_of_five") },
  { kind: "comfort", words: t("bench:steps_dialog.three_sessions_at_ease") },
];

/** The steps of a session: what counts at each, when the marker should fall, when to go on. */
export function StepsDialog({ marking, onClose }: { marking: Marking; onClose: () => void }) {
  const { plan } = marking;
  const [rows, setRows] = useState<Row[]>(() => {
    const steps = (plan.approximations ?? []).map((s) => ({ ...s, title: s.title ?? s.key }));
    return steps.length > 0 ? steps : [emptyRow()];
  });
  const [kind, setKind] = useState<Kind>(plan.rule?.kind ?? "run");
  const used = new Set(marking.events.map((e) => e.approximation));
  const change = (key: string, to: Partial<Row>) =>
    setRows((all) => all.map((row) => (row.key === key ? { ...row, ...to } : row)));

  const save = (event: FormEvent) => {
    event.preventDefault();
    marking.setPlan(planOf(plan, rows, kind));
    onClose();
  };
  // The school's own numbers are kept; only another school begins with its usual ones.
  const known = RULES.some((rule) => rule.kind === kind);
  return (
    <PaperDialog
      title={t("bench:steps_dialog.the_steps_of_this_session")}
      description={t("bench:steps_dialog.the_easiest_first_say_what")}
      className="w-[46rem]"
      onClose={onClose}
    >
      <form onSubmit={save}>
        <ol className="space-y-2">
          {rows.map((row, place) => (
            <li key={row.key} className="flex items-center gap-2">
              <span className="num w-5 text-right text-soft">{place + 1}</span>
              <input
                aria-label={t("bench:steps_dialog.step_place_what_counts", {
                  place: place + 1,
                })}
                value={row.title}
                required
                maxLength={400}
                onChange={(event) => change(row.key, { title: event.target.value })}
                className={`${FIELD} min-w-0 flex-1`}
              />
              <span className="text-soft">{t("common:marker")}</span>
              <select
                aria-label={t("bench:steps_dialog.step_place_when_the_marker", {
                  place: place + 1,
                })}
                value={row.mark_at ?? "onset"}
                onChange={(event) =>
                  change(row.key, {
                    mark_at: event.target.value as PlanStep["mark_at"] & string,
                  })
                }
                className={FIELD}
              >
                {MARK_AT.map((at) => (
                  <option key={at.value} value={at.value}>
                    {at.words}
                  </option>
                ))}
              </select>
              {row.mark_at === "hold" && (
                <label className="flex items-center gap-1">
                  <input
                    aria-label={t("bench:steps_dialog.step_place_held_for_seconds", {
                      place: place + 1,
                    })}
                    type="number"
                    required
                    min={0.1}
                    max={3600}
                    step={0.1}
                    value={row.hold_s ?? ""}
                    onChange={(event) => change(row.key, { hold_s: event.target.valueAsNumber })}
                    className={`${FIELD} num w-20`}
                  />
                  s
                </label>
              )}
              <Button
                look="quiet"
                disabled={used.has(row.key) || rows.length === 1}
                title={
                  used.has(row.key)
                    ? t("bench:steps_dialog.marks_stand_under_this_step")
                    : undefined
                }
                aria-label={t("bench:steps_dialog.take_step_place_out", { place: place + 1 })}
                onClick={() => setRows((all) => all.filter((r) => r.key !== row.key))}
              >
                {t("bench:steps_dialog.take_out")}
              </Button>
            </li>
          ))}
        </ol>
        <p className="mt-3 flex items-center gap-4">
          <Button onClick={() => setRows((all) => [...all, emptyRow()])}>
            {t("bench:steps_dialog.one_more_step")}
          </Button>
          <label className="flex items-center gap-2">
            {t("bench:steps_dialog.go_on_to_the_next")}
            <select
              value={kind}
              onChange={(event) => setKind(event.target.value as Kind)}
              className={FIELD}
            >
              {!known && <option value={kind}>{t("common:as_the_plan_says")}</option>}
              {RULES.map((rule) => (
                <option key={rule.kind} value={rule.kind}>
                  {rule.words}
                </option>
              ))}
            </select>
          </label>
        </p>
        <div className="mt-5 flex justify-end gap-2">
          <Button onClick={onClose}>{t("common:leave_it")}</Button>
          <Button look="main" type="submit">
            {t("bench:steps_dialog.keep_these_steps")}
          </Button>
        </div>
      </form>
    </PaperDialog>
  );
}

function emptyRow(): Row {
  return { key: freshId().slice(0, 8), title: "" };
}

/** The plan with these steps and this school; what the dialog does not show stays as it was. */
export function planOf(before: PlanBody, rows: Row[], kind: Kind): PlanBody {
  const plan: PlanBody = { ...before };
  plan.approximations = rows.map(({ hold_s, ...row }) => ({
    ...row,
    title: row.title.trim(),
    ...(row.mark_at === "hold" && hold_s !== undefined ? { hold_s } : {}),
  }));
  if (kind === "") delete plan.rule;
  else if (before.rule?.kind !== kind) plan.rule = { kind };
  return plan;
}
