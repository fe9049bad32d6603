import { NumberField } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

/** After how long a level counts as untried again, where it is not two weeks. */
export function Fades({ plan, set }: PartProps) {
  const { fades_days, ...rest } = plan.programme ?? {};
  return (
    <p className="mt-2.5">
      <NumberField
        label={t("plan:programme.days_until_untried")}
        value={fades_days ?? 14}
        min={1}
        max={365}
        unit={t("plan:programme.days_untried_and_it_is_due")}
        onChange={(days) => set({ programme: days ? { ...rest, fades_days: days } : rest })}
      />
    </p>
  );
}

/** How much of the work is at a level that is new, where it is not seven reps of ten. */
export function News({ plan, set }: PartProps) {
  const { new_share, ...rest } = plan.programme ?? {};
  return (
    <p className="mt-2.5">
      <NumberField
        label={t("plan:programme.reps_at_a_new_level")}
        value={Math.round(100 * (new_share ?? 0.7))}
        min={10}
        max={100}
        step={5}
        unit={t("plan:programme.percent_at_a_new_level")}
        onChange={(percent) =>
          set({ programme: percent === undefined ? rest : { ...rest, new_share: percent / 100 } })
        }
      />
    </p>
  );
}

/** How many of the chances at a cued step ask for nothing, where it is not half of them. */
export function Waits({ plan, set }: PartProps) {
  const { wait_share, ...rest } = plan.programme ?? {};
  if (plan.cue?.from_step === undefined) return null;
  return (
    <p className="mt-2.5">
      <NumberField
        label={t("plan:programme.chances_without_cue")}
        value={Math.round(100 * (wait_share ?? 0.5))}
        max={90}
        step={5}
        unit={t("plan:programme.percent_ask_nothing")}
        onChange={(percent) =>
          set({
            programme: percent === undefined ? rest : { ...rest, wait_share: percent / 100 },
          })
        }
      />
    </p>
  );
}
