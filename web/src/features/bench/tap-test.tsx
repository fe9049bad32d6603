import { Dialog } from "radix-ui";
import { useEffect, useRef, useState } from "react";

import { Button } from "../../components/button";
import { latency, uncertainty } from "../../domain/times";
import { lagOf } from "../../domain/reaction";
import type { Lag } from "../../domain/reaction";
import { t } from "../../words";

/** Swings of the bell in a whole test, and the pause before each, milliseconds: half a minute. */
const SWINGS = 12;
const LEAST_MS = 1300;
const SPREAD_MS = 1900;
/** A tap later than this after a swing answers nothing. */
const LATE_MS = 1000;

type Playback = "before" | "running" | "done";

/** The reviewer's own reaction lag: measured in half a minute, shown, and set by hand. */
export function TapTest({
  lag,
  onLag,
  onClose,
}: {
  lag: Lag;
  onLag: (lag: Lag) => void;
  onClose: () => void;
}) {
  const [stage, setStage] = useState<Playback>("before");
  const [isUp, setIsUp] = useState(false);
  const [lags, setLags] = useState<number[]>([]);
  const [missed, setMissed] = useState(0);
  const swungAt = useRef<number | null>(null);
  const answered = useRef(true);

  useEffect(() => {
    if (stage !== "running") return;
    let timer = 0;
    let frame = 0;
    let n = 0;
    const rest = () => {
      if (!answered.current) setMissed((m) => m + 1);
      if (n === SWINGS) {
        setStage("done");
        return;
      }
      timer = window.setTimeout(swing, LEAST_MS + Math.random() * SPREAD_MS);
    };
    const swing = () => {
      n++;
      answered.current = false;
      setIsUp(true);
      // The instant is that of the frame in which it is drawn.
      frame = requestAnimationFrame((now) => (swungAt.current = now));
      timer = window.setTimeout(() => {
        setIsUp(false);
        timer = window.setTimeout(rest, LATE_MS - 350);
      }, 350);
    };
    timer = window.setTimeout(swing, LEAST_MS);
    return () => {
      window.clearTimeout(timer);
      cancelAnimationFrame(frame);
    };
  }, [stage]);

  const tap = (at: number) => {
    const swung = swungAt.current;
    if (stage !== "running" || swung === null || answered.current) return;
    const ms = at - swung;
    if (ms < 0 || ms > LATE_MS) return;
    answered.current = true;
    setLags((all) => [...all, ms / 1000]);
  };

  const found = lagOf(lags);
  useEffect(() => {
    if (stage !== "done" || !found) return;
    onLag(found);
    // Kept once, when the test is over.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stage]);

  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          onKeyDown={(event) => {
            const isField = (event.target as HTMLElement).closest("input, button");
            if (isField && stage !== "running") return;
            if (event.key === "Escape" || event.key === "Tab" || event.repeat) return;
            if (stage === "running") event.preventDefault();
            tap(event.timeStamp);
          }}
          className="fixed top-16 left-1/2 z-40 w-[30rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="text-[18px] font-semibold">
            {t("bench:tap_test.your_own_tap_lag")}
          </Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            {t("bench:tap_test.between_seeing_and_pressing_lies")}
          </Dialog.Description>
          <button
            type="button"
            aria-label={
              stage === "running"
                ? t("bench:tap_test.tap_here_or_any_key")
                : t("bench:tap_test.the_bell")
            }
            onPointerDown={(event) => tap(event.timeStamp)}
            className="flex h-44 w-full touch-none items-center justify-center rounded bg-hair"
          >
            <Bell isUp={isUp} />
          </button>
          <p role="status" className="mt-3 min-h-12">
            {stage === "before" && t("bench:tap_test.twelve_swings_half_a_minute")}
            {stage === "running" &&
              t("bench:tap_test.lagscount_of_swings_caught_which", {
                lagsCount: lags.length,
                SWINGS,
                which: lags.length
                  ? t("bench:tap_test.the_last_after", { lag: lags.at(-1)?.toFixed(3) })
                  : "",
              })}
            {stage === "done" &&
              (found
                ? t("bench:tap_test.your_lag_is_lags_each", {
                    lagS: latency(found.lagS, 3),
                    sdS: uncertainty(found.sdS),
                    which: missed ? t("bench:tap_test.missed_swings_missed", { missed }) : "",
                  })
                : t("bench:tap_test.too_few_taps_to_tell"))}
          </p>
          <div className="mt-3 flex flex-wrap items-center gap-4 border-t border-line pt-3">
            <Number
              label={t("bench:tap_test.lag_taken_off_seconds")}
              words="lag taken off"
              value={lag.lagS}
              onChange={(lagS) => onLag({ ...lag, lagS })}
            />
            <Number
              label={t("bench:tap_test.spread_of_a_tap_seconds")}
              words="spread"
              value={lag.sdS}
              onChange={(sdS) => onLag({ ...lag, sdS })}
            />
          </div>
          <div className="mt-4 flex justify-end gap-2">
            <Button onClick={onClose}>{t("common:close")}</Button>
            <Button
              look="main"
              disabled={stage === "running"}
              onClick={(event) => {
                setLags([]);
                setMissed(0);
                answered.current = true;
                swungAt.current = null;
                setStage("running");
                event.currentTarget.blur();
                event.currentTarget.closest<HTMLElement>("[role=dialog]")?.focus();
              }}
            >
              {stage === "done" ? t("bench:tap_test.once_more") : t("bench:tap_test.begin")}
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Number({
  label,
  words,
  value,
  onChange,
}: {
  label: string;
  words: string;
  value: number;
  onChange: (value: number) => void;
}) {
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

/** The ship's bell of the steading: at rest, or swung to the side. */
function Bell({ isUp }: { isUp: boolean }) {
  return (
    <svg width={120} height={130} viewBox="0 0 120 130" aria-hidden data-swinging={isUp}>
      <path d="M20 12H100" stroke="var(--soft)" strokeWidth={6} />
      <g transform={isUp ? "rotate(38 60 14)" : ""}>
        <path
          d="M60 14v10M36 96c0-10 6-12 6-34 0-20 8-34 18-34s18 14 18 34c0 22 6 24 6 34z"
          fill={isUp ? "var(--marker)" : "none"}
          stroke="var(--marker)"
          strokeWidth={4}
        />
        <circle cx={60} cy={102} r={6} fill="var(--ink)" />
      </g>
    </svg>
  );
}
