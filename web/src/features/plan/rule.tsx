import { RULES } from "../../domain/plan-document";
import { FIELD, NumberField } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

const KINDS = Object.keys(RULES) as (keyof typeof RULES)[];

/** The school that says when to raise and when to lower, with its numbers. */
export function Rule({ plan, set }: PartProps) {
  const rule = plan.rule;
  const numbers = rule ? RULES[rule.kind].numbers : [];
  return (
    <div className="space-y-1.5">
      <select
        aria-label={t("plan:rule.school")}
        value={rule?.kind ?? ""}
        onChange={(event) => {
          const kind = KINDS.find((one) => one === event.target.value);
          set({ rule: kind && { kind } });
        }}
        className={`${FIELD} w-full`}
      >
        <option value="">{t("plan:rule.no_rule_yet")}</option>
        {KINDS.map((kind) => (
          <option key={kind} value={kind}>
            {RULES[kind].words}
          </option>
        ))}
      </select>
      {rule &&
        numbers.map(([key, words, usual]) => (
          <div key={key} className="flex items-center justify-between gap-2 text-[13px]">
            <span>{words}</span>
            <NumberField
              label={words}
              value={rule[key] ?? usual}
              step={usual < 1 ? 0.05 : 1}
              onChange={(value) => set({ rule: { ...rule, [key]: value ?? usual } })}
            />
          </div>
        ))}
    </div>
  );
}
