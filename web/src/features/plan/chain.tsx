import { ChainCalculator } from "./calculators/chain";
import { FIELD } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

/** The chain the behaviour is a part of, and the order in which its parts are joined. */
export function Chain({
  plan,
  set,
  addSteps,
}: PartProps & { addSteps: (stages: string[][]) => void }) {
  const parts = plan.chain?.parts ?? [];
  const direction = plan.chain?.direction ?? "backward";
  return (
    <>
      <div className="flex items-center gap-1.5">
        <input
          aria-label={t("plan:chain.parts_of_the_chain")}
          placeholder={t("plan:chain.parts_in_their_order_with")}
          key={parts.join()}
          defaultValue={parts.join(", ")}
          onBlur={(event) => {
            const names = event.target.value
              .split(",")
              .map((part) => part.trim())
              .filter(Boolean);
            set({ chain: names.length > 0 ? { direction, parts: names } : undefined });
          }}
          className={`${FIELD} min-w-0 flex-1`}
        />
        {parts.length > 0 && (
          <select
            aria-label={t("plan:chain.joined_from")}
            value={direction}
            onChange={(event) =>
              set({ chain: { parts, direction: event.target.value as typeof direction } })
            }
            className={FIELD}
          >
            <option value="backward">{t("plan:chain.from_the_end")}</option>
            <option value="forward">{t("plan:chain.from_the_start")}</option>
          </select>
        )}
      </div>
      {parts.length > 1 && (
        <ChainCalculator parts={parts} direction={direction} onFill={addSteps} />
      )}
    </>
  );
}
