import type { ReactNode } from "react";

import type { RemarkOut } from "../../domain/plan-document";
import { t } from "../../words";

export const FIELD = "h-8 rounded border border-line bg-paper px-2 hover:border-soft";

/** One line of a panel: what it is about, its field, and the remarks that belong to it. */
export function Line({
  label,
  remarks = [],
  onMend,
  children,
}: {
  label: string;
  remarks?: RemarkOut[];
  onMend?: (remark: RemarkOut) => void;
  children: ReactNode;
}) {
  return (
    <div className="grid grid-cols-[104px_1fr] gap-x-3 border-t border-line py-2.5">
      <div className="pt-1 text-[13px] text-soft">{label}</div>
      <div className="min-w-0">
        {children}
        {remarks.map((remark) => (
          <RemarkNote key={remark.code} remark={remark} onMend={onMend} />
        ))}
      </div>
    </div>
  );
}

const MENDS: Record<string, string> = {
  split_step: t("plan:fields.split_this_step_in_two_x"),
  add_fallback: t("plan:fields.go_back_to_the_step"),
  cap_session: t("plan:fields.at_most_3_minutes"),
  cap_reps: t("plan:fields.at_most_15_reps"),
  fewer_lures: t("plan:fields.at_most_5_reps_with"),
  cue_later: t("plan:fields.bring_the_cue_in_when"),
};

/** A remark at its place: something to mend, or something to keep in mind. */
export function RemarkNote({
  remark,
  onMend,
}: {
  remark: RemarkOut;
  onMend?: ((remark: RemarkOut) => void) | undefined;
}) {
  const isCheck = remark.sort === "check";
  return (
    <div
      data-remark={remark.code}
      className={`mt-2 border-l-[3px] py-0.5 pl-2.5 text-[13px] ${isCheck ? "border-marker" : "border-soft text-soft"}`}
    >
      <span className="font-semibold">{remark.title}</span> {remark.text}{" "}
      {remark.mend && onMend && (
        <button
          type="button"
          className="underline underline-offset-3 hover:text-ink"
          onClick={() => onMend(remark)}
        >
          {MENDS[remark.mend]}
        </button>
      )}
    </div>
  );
}

/** Some of a few: pressed ones are dark. With `one`, pressing another lets go of the first. */
export function Choice<T extends string>({
  label,
  options,
  chosen,
  onChange,
  one = false,
}: {
  label: string;
  options: readonly { value: T; words: string }[];
  chosen: readonly T[];
  onChange: (chosen: T[]) => void;
  one?: boolean;
}) {
  const press = (value: T) => {
    if (chosen.includes(value)) onChange(one ? [] : chosen.filter((c) => c !== value));
    else onChange(one ? [value] : [...chosen, value]);
  };
  return (
    <div role="group" aria-label={label} className="flex flex-wrap gap-1.5">
      {options.map(({ value, words }) => (
        <button
          key={value}
          type="button"
          aria-pressed={chosen.includes(value)}
          onClick={() => press(value)}
          className={`h-7 rounded border px-2 text-[13px] ${
            chosen.includes(value)
              ? "border-ink bg-ink text-paper"
              : "border-line bg-paper hover:border-ink"
          }`}
        >
          {words}
        </button>
      ))}
    </div>
  );
}

/** A number that may be missing. */
export function NumberField({
  label,
  value,
  onChange,
  min = 0,
  max,
  step = 1,
  unit,
}: {
  label: string;
  value: number | undefined;
  onChange: (value: number | undefined) => void;
  min?: number;
  max?: number;
  step?: number | "any";
  unit?: string;
}) {
  return (
    <label className="inline-flex items-center gap-1.5">
      <input
        type="number"
        aria-label={label}
        min={min}
        max={max}
        step={step}
        value={value ?? ""}
        onChange={(event) =>
          onChange(event.target.value === "" ? undefined : event.target.valueAsNumber)
        }
        className={`${FIELD} num w-20`}
      />
      {unit && <span className="text-soft">{unit}</span>}
    </label>
  );
}
