import { Dialog } from "radix-ui";
import { Link } from "react-router";

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
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-16 left-1/2 z-40 w-[30rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="text-[18px] font-semibold">
            {t("bench:lag_dialog.your_own_tap_lag")}
          </Dialog.Title>
          <Dialog.Description className="mt-1 text-soft">
            {t("bench:lag_dialog.between_seeing_and_pressing_lies")}
          </Dialog.Description>
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
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
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
