import { Button } from "../../components/button";
import { HELP } from "../../domain/help-levels";
import { Choice, FIELD, Line, NumberField } from "./fields";
import {
  moved,
  withNewPart,
  type Changes,
  type Part,
  type PlanDocument,
  type RemarkOut,
  type Step,
} from "../../domain/plan-document";

interface AskedProps {
  plan: PlanDocument;
  step: Step;
  of: (...codes: string[]) => RemarkOut[];
  set: (values: Changes<Step>) => void;
}

/** What else a step may ask: parts, an end by the trainer, a number, little help, an answer. */
export function Asked({ plan, step, of, set }: AskedProps) {
  return (
    <>
      <Line label="Ends" remarks={of("let_go_by_marker")}>
        <Choice
          one
          label="Ends"
          options={[
            { value: "itself", words: "when it leaves off" },
            { value: "let_go", words: "when I let it go" },
          ]}
          chosen={[step.until_release ? "let_go" : "itself"]}
          onChange={([end]) => set({ until_release: end === "let_go" ? true : undefined })}
        />
        {step.until_release && (
          <p className="mt-1 text-[13px] text-soft">
            Paid as often as you like before; leaving earlier is told apart from being let go.
          </p>
        )}
      </Line>
      <Line label="Chain" remarks={of("part_of_one")}>
        <Parts
          parts={step.parts ?? []}
          onChange={(parts) => set({ parts: parts.length > 0 ? parts : undefined })}
        />
      </Line>
      <Line label="Measured">
        <Measured quantity={step.quantity} onChange={(quantity) => set({ quantity })} />
      </Line>
      <Line label="Most help" remarks={of("help_not_planned")}>
        <select
          aria-label="Most help with which it still counts"
          value={step.help ?? ""}
          onChange={(event) => set({ help: event.target.value || undefined })}
          className={`${FIELD} w-full`}
        >
          <option value="">as the plan says</option>
          <option value="none">none: only what it does alone counts</option>
          {HELP.map((h) => (
            <option key={h.level} value={h.level}>
              {h.words}
              {(plan.prompts ?? []).includes(h.level) ? "" : " (not in the plan)"}
            </option>
          ))}
        </select>
      </Line>
      <Line label="Cue" remarks={of("answers_no_cue")}>
        <label className="flex items-start gap-2">
          <input
            type="checkbox"
            className="mt-1"
            checked={step.answers ?? false}
            onChange={(event) => set({ answers: event.target.checked || undefined })}
          />
          answered when asked, left alone when not
        </label>
      </Line>
      <Line label="Paid at least">
        <NumberField
          label="Rewards a minute at this step, at least"
          value={step.rate_floor_per_min}
          step="any"
          unit="a minute, else as the plan says"
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
              aria-label={`Part ${n + 1}`}
              placeholder="one part, such as “takes the peg”"
              value={part.title ?? ""}
              maxLength={400}
              onChange={(event) =>
                onChange(parts.map((p, i) => (i === n ? { ...p, title: event.target.value } : p)))
              }
              className={`${FIELD} min-w-0 flex-1`}
            />
            <button
              type="button"
              aria-label={`Part ${n + 1} earlier`}
              disabled={n === 0}
              className={SMALL}
              onClick={() => onChange(moved(parts, n, -1))}
            >
              ↑
            </button>
            <button
              type="button"
              aria-label={`Part ${n + 1} later`}
              disabled={n === parts.length - 1}
              className={SMALL}
              onClick={() => onChange(moved(parts, n, 1))}
            >
              ↓
            </button>
            <button
              type="button"
              aria-label={`Take part ${n + 1} out`}
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
        {parts.length === 0 ? "It is a chain of parts" : "One more part"}
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
        onClick={() => onChange({ name: "height", unit: "cm", better: "more" })}
      >
        A number of each rep
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
        aria-label="What is measured"
        value={quantity.name}
        maxLength={200}
        onChange={(event) => set({ name: event.target.value || "number" })}
        className={`${FIELD} w-24`}
      />
      in
      <input
        aria-label="Unit"
        value={quantity.unit}
        maxLength={40}
        onChange={(event) => set({ unit: event.target.value })}
        className={`${FIELD} w-16`}
      />
      <select
        aria-label="Better is"
        value={quantity.better}
        onChange={(event) => set({ better: event.target.value as "more" | "less" })}
        className={FIELD}
      >
        <option value="more">more is better</option>
        <option value="less">less is better</option>
      </select>
      <NumberField
        label="The aim"
        value={quantity.target}
        min={-1e9}
        step="any"
        unit={`${quantity.unit} is the aim`}
        onChange={(target) => set({ target })}
      />
      <button
        type="button"
        aria-label="Measure nothing"
        className={SMALL}
        onClick={() => onChange(undefined)}
      >
        ×
      </button>
    </div>
  );
}
