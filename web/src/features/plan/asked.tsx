import { Button } from "../../components/button";
import { HELP } from "../../domain/help-levels";
import { Choice, FIELD, Line, NumberField } from "./fields";
import { Rungs } from "./rungs";
import {
  moved,
  withNewPart,
  withQuantity,
  type Changes,
  type Part,
  type PlanDocument,
  type RemarkOut,
  type Step,
} from "../../domain/plan-document";
import { t } from "../../words";

interface AskedProps {
  plan: PlanDocument;
  step: Step;
  of: (...codes: string[]) => RemarkOut[];
  set: (values: Changes<Step>) => void;
  change: (plan: PlanDocument) => void;
}

/** What else a step may ask: parts, an end by the trainer, a number, little help, an answer. */
export function Asked({ plan, step, of, set, change }: AskedProps) {
  return (
    <>
      <Line label={t("plan:asked.ends")} remarks={of("let_go_by_marker")}>
        <Choice
          one
          label={t("plan:asked.ends")}
          options={[
            { value: "itself", words: t("plan:asked.when_it_leaves_off") },
            { value: "let_go", words: t("plan:asked.when_i_let_it_go") },
          ]}
          chosen={[step.until_release ? "let_go" : "itself"]}
          onChange={([end]) => set({ until_release: end === "let_go" ? true : undefined })}
        />
        {step.until_release && (
          <p className="mt-1 text-[13px] text-soft">{t("plan:asked.paid_as_often_as_you")}</p>
        )}
      </Line>
      <Line label={t("plan:asked.chain")} remarks={of("part_of_one")}>
        <Parts
          parts={step.parts ?? []}
          onChange={(parts) => set({ parts: parts.length > 0 ? parts : undefined })}
        />
      </Line>
      <Line label={t("plan:asked.measured")}>
        <Measured
          quantity={step.quantity}
          onChange={(quantity) => change(withQuantity(plan, step.key, quantity))}
        />
        {step.quantity && <Rungs plan={plan} quantity={step.quantity} change={change} />}
      </Line>
      <Line label={t("plan:asked.most_help")} remarks={of("help_not_planned")}>
        <select
          aria-label={t("plan:asked.most_help_with_which_it")}
          value={step.help ?? ""}
          onChange={(event) => set({ help: event.target.value || undefined })}
          className={`${FIELD} w-full`}
        >
          <option value="">{t("common:as_the_plan_says")}</option>
          <option value="none">{t("plan:asked.none_only_what_it_does")}</option>
          {HELP.map((h) => (
            <option key={h.level} value={h.level}>
              {h.words}
              {(plan.prompts ?? []).includes(h.level) ? "" : t("plan:asked.not_in_the_plan")}
            </option>
          ))}
        </select>
      </Line>
      <Line label={t("common:cue2")} remarks={of("answers_no_cue")}>
        <label className="flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={step.answers ?? false}
            onChange={(event) => set({ answers: event.target.checked || undefined })}
          />
          {t("plan:asked.answered_when_asked_left_alone")}
        </label>
      </Line>
      <Line label={t("plan:asked.paid_at_least")}>
        <NumberField
          label={t("plan:asked.rewards_a_minute_at_this")}
          value={step.rate_floor_per_min}
          step="any"
          unit={t("plan:asked.a_minute_else_as_the")}
          onChange={(rate_floor_per_min) => set({ rate_floor_per_min })}
        />
      </Line>
    </>
  );
}

const SMALL = "px-1 text-soft hover:text-ink disabled:opacity-30";

/** The parts of a chain in the order in which they are done. */
function Parts({ parts, onChange }: { parts: Part[]; onChange: (parts: Part[]) => void }) {
  return (
    <div className="space-y-1.5">
      <ol className="space-y-1.5">
        {parts.map((part, n) => (
          <li key={part.key} className="flex items-center gap-1">
            <span className="num w-4 text-soft">{n + 1}</span>
            <input
              aria-label={t("plan:asked.part_n", { n: n + 1 })}
              placeholder={t("plan:asked.one_part_such_as_takes")}
              value={part.title ?? ""}
              maxLength={400}
              onChange={(event) =>
                onChange(parts.map((p, i) => (i === n ? { ...p, title: event.target.value } : p)))
              }
              className={`${FIELD} min-w-0 flex-1`}
            />
            <button
              type="button"
              aria-label={t("plan:asked.part_n_earlier", { n: n + 1 })}
              disabled={n === 0}
              className={SMALL}
              onClick={() => onChange(moved(parts, n, -1))}
            >
              ↑
            </button>
            <button
              type="button"
              aria-label={t("plan:asked.part_n_later", { n: n + 1 })}
              disabled={n === parts.length - 1}
              className={SMALL}
              onClick={() => onChange(moved(parts, n, 1))}
            >
              ↓
            </button>
            <button
              type="button"
              aria-label={t("plan:asked.take_part_n_out", { n: n + 1 })}
              className={SMALL}
              onClick={() => onChange(parts.filter((_, i) => i !== n))}
            >
              ×
            </button>
          </li>
        ))}
      </ol>
      <Button
        className="h-7"
        onClick={() =>
          onChange(parts.length === 0 ? withNewPart(withNewPart([])) : withNewPart(parts))
        }
      >
        {parts.length === 0 ? t("plan:asked.it_is_a_chain_of") : t("plan:asked.one_more_part")}
      </Button>
    </div>
  );
}

/** Which number each rep is given, and which way is better. */
function Measured({
  quantity,
  onChange,
}: {
  quantity: Step["quantity"];
  onChange: (quantity: Step["quantity"] | undefined) => void;
}) {
  if (!quantity) {
    return (
      <Button
        className="h-7"
        onClick={() => onChange({ name: "height", unit: t("plan:asked.cm"), better: "more" })}
      >
        {t("plan:asked.a_number_of_each_rep")}
      </Button>
    );
  }
  const set = (values: Changes<NonNullable<Step["quantity"]>>) => {
    const { target, ...rest } = { ...quantity, ...values };
    onChange({ ...rest, ...(target === undefined ? {} : { target }) } as Step["quantity"]);
  };
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <input
        aria-label={t("plan:asked.what_is_measured")}
        value={quantity.name}
        maxLength={200}
        onChange={(event) => set({ name: event.target.value || "number" })}
        className={`${FIELD} w-24`}
      />
      {t("plan:asked.in")}
      <input
        aria-label={t("plan:asked.unit")}
        value={quantity.unit}
        maxLength={40}
        onChange={(event) => set({ unit: event.target.value })}
        className={`${FIELD} w-16`}
      />
      <select
        aria-label={t("plan:asked.better_is")}
        value={quantity.better}
        onChange={(event) => set({ better: event.target.value as "more" | "less" })}
        className={FIELD}
      >
        <option value="more">{t("plan:asked.more_is_better")}</option>
        <option value="less">{t("plan:asked.less_is_better")}</option>
      </select>
      <NumberField
        label={t("plan:asked.the_aim")}
        value={quantity.target}
        min={-1e9}
        step="any"
        unit={t("plan:asked.unit_is_the_aim", { unit: quantity.unit })}
        onChange={(target) => set({ target })}
      />
      <button
        type="button"
        aria-label={t("plan:asked.measure_nothing")}
        className={SMALL}
        onClick={() => onChange(undefined)}
      >
        ×
      </button>
    </div>
  );
}
