import { Link } from "react-router";

import { PaperDialog } from "../../components/paper-dialog";
import { Button } from "../../components/button";
import type { Lag } from "../../domain/reaction";
import { t } from "../../words";

interface LagDialogProps {
  lag: Lag;
  /** Where it comes from: drills, the reviewer's own word, or nowhere yet. */
  by: "drill" | "hand" | null;
  onLag: (lag: Lag) => void;
  onClose: () => void;
}

/** The reviewer's own reaction lag: where it comes from, how to measure it, and set by hand. */
export function LagDialog({ lag, by, onLag, onClose }: LagDialogProps) {
  return (
    <PaperDialog
      title={t("bench:lag_dialog.your_own_tap_lag")}
      description={t("bench:lag_dialog.between_seeing_and_pressing_lies")}
      className="w-[30rem]"
      onClose={onClose}
    >
      <p className="mt-3">
        {by === "drill"
          ? t("bench:lag_dialog.from_your_drills")
          : by === "hand"
            ? t("bench:lag_dialog.set_by_hand")
            : t("bench:lag_dialog.a_usual_one")}
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-4 border-t border-line pt-3">
        <Seconds
          label={t("bench:lag_dialog.lag_taken_off_seconds")}
          words={t("bench:lag_dialog.lag_taken_off")}
          value={lag.lagS}
          onChange={(lagS) => onLag({ ...lag, lagS })}
        />
        <Seconds
          label={t("bench:lag_dialog.spread_of_a_tap_seconds")}
          words={t("bench:lag_dialog.spread")}
          value={lag.sdS}
          onChange={(sdS) => onLag({ ...lag, sdS })}
        />
      </div>
      <div className="mt-4 flex items-center justify-end gap-2">
        <Button onClick={onClose}>{t("common:close")}</Button>
        <Link
          to="/drill"
          className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper hover:opacity-90"
        >
          {t("bench:lag_dialog.measure_it")}
        </Link>
      </div>
    </PaperDialog>
  );
}

interface SecondsProps {
  label: string;
  words: string;
  value: number;
  onChange: (value: number) => void;
}

function Seconds({ label, words, value, onChange }: SecondsProps) {
  return (
    <label className="flex items-center gap-2">
      {words}
      <input
        type="number"
        aria-label={label}
        min={0}
        max={2}
        step={0.01}
        value={+value.toFixed(3)}
        onChange={(event) => {
          const next = event.target.valueAsNumber;
          if (next >= 0 && next <= 2) onChange(next);
        }}
        className="num h-8 w-20 rounded border border-line bg-paper px-2"
      />
      s
    </label>
  );
}
