import { useState } from "react";
import type { PlanDocument } from "../../../domain/plan-document";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";
import { Trans, t } from "../../../words";

/** Pieces to have ready, and their share of the day's energy. */
export function RewardsCalculator({ plan }: { plan: PlanDocument }) {
  const [perMin, setPerMin] = useState<number | undefined>(10);
  const [piece, setPiece] = useState<number | undefined>();
  const [day, setDay] = useState<number | undefined>();
  const minutes = (plan.session_cap_s ?? 180) / 60;
  const ready = useCalculated("prepare_rewards", {
    minutes,
    per_min: perMin ?? 0,
    ...(piece ? { piece_kj: piece } : {}),
    ...(day ? { day_kj: day } : {}),
  });
  return (
    <Calculator title={t("plan:rewards.work_out_rewards_to_prepare")}>
      <div className="flex flex-wrap items-center gap-2">
        <NumberField
          label={t("common:rewards_a_minute")}
          value={perMin}
          min={1}
          onChange={setPerMin}
        />
        {t("plan:rewards.a_minute_for_value_min", { value: +minutes.toFixed(1) })}
        <NumberField
          label={t("plan:rewards.energy_of_a_piece_kj")}
          value={piece}
          step="any"
          unit={t("plan:rewards.kj_a_piece")}
          onChange={setPiece}
        />
        <NumberField
          label={t("plan:rewards.energy_of_a_day_kj")}
          value={day}
          step="any"
          unit={t("plan:rewards.kj_a_day")}
          onChange={setDay}
        />
      </div>
      <Answered query={ready}>
        {({ pieces, energy_share, over }) => (
          <p className="text-[15px]">
            <Trans
              i18nKey="plan:rewards.pieces_pieces"
              components={{ part: <span className="num" /> }}
              values={{ pieces }}
            />
            {energy_share !== null && (
              <>
                <Trans
                  i18nKey="plan:rewards.energy_share_of_the_days"
                  components={{ part: <span className="num" /> }}
                  values={{ energy_share: (energy_share * 100).toFixed(1) }}
                />
                {over && (
                  <strong className="text-marker"> {t("plan:rewards.more_than_a_tenth")}</strong>
                )}
              </>
            )}
          </p>
        )}
      </Answered>
    </Calculator>
  );
}
