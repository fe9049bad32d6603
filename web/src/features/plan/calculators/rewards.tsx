import { useState } from "react";
import type { PlanDocument } from "../../../domain/plan-document";
import { NumberField } from "../fields";
import { Answered, Calculator, useCalculated } from "./calculator";

/** Pieces to have ready, and their share of the day's energy. */
export function RewardsCalculator({ plan }: { plan: PlanDocument }) {
  const [perMin, setPerMin] = useState<number | undefined>(10);
  const [piece, setPiece] = useState<number | undefined>();
  const [day, setDay] = useState<number | undefined>();
  const minutes = (plan.session_cap_s ?? 180) / 60;
  const ready = useCalculated<{
    pieces: number;
    energy_share: number | null;
    over: boolean | null;
  }>("prepare_rewards", {
    minutes,
    per_min: perMin ?? 0,
    ...(piece ? { piece_kj: piece } : {}),
    ...(day ? { day_kj: day } : {}),
  });
  return (
    <Calculator title="Work out rewards to prepare">
      <div className="flex flex-wrap items-center gap-2">
        <NumberField label="Rewards a minute" value={perMin} min={1} onChange={setPerMin} />a minute
        for {+minutes.toFixed(1)} min
        <NumberField
          label="Energy of a piece, kJ"
          value={piece}
          step="any"
          unit="kJ a piece"
          onChange={setPiece}
        />
        <NumberField
          label="Energy of a day, kJ"
          value={day}
          step="any"
          unit="kJ a day"
          onChange={setDay}
        />
      </div>
      <Answered query={ready}>
        {({ pieces, energy_share, over }) => (
          <p className="text-[15px]">
            <span className="num">{pieces}</span> pieces
            {energy_share !== null && (
              <>
                , <span className="num">{(energy_share * 100).toFixed(1)} %</span> of the day's
                energy
                {over && <strong className="text-marker"> · more than a tenth</strong>}
              </>
            )}
          </p>
        )}
      </Answered>
    </Calculator>
  );
}
