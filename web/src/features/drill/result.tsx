import { useState } from "react";

import { LatencyPlot } from "../../components/latency-plot";
import { MarkerRing } from "../../components/glyphs";
import { Button } from "../../components/button";
import type { LevelKey, Scored } from "../../domain/drill";
import { counted, latency, shortClock, uncertainty } from "../../domain/times";
import { t } from "../../words";
import { choiceLike } from "./drill-kind";
import type { Choice } from "./use-choice";
import { useLeaveOut } from "./use-drills";
import type { Drilling } from "./use-drilling";

/** The plot's axis, seconds around the instant. */
const FROM_S = -0.5;
const TO_S = 1;

interface ResultProps {
  scored: Scored;
  drilling: Drilling;
  /** The level it is time for after this one; null for the same. */
  advice: LevelKey | null;
  onAgain: (isAgain: boolean) => void;
  onBegin: (values: Partial<Choice>) => void;
  onOther: () => void;
}

/** What a drill was worth: first what an animal would have been told wrongly, then the timing. */
export function Result(props: ResultProps) {
  const { scored, drilling, advice, onAgain, onBegin, onOther } = props;
  const { score, run } = scored;
  const { median, median_low: low, median_high: high } = score.timing.lag_s;
  const leaveOut = useLeaveOut();
  const delayS = drilling.clickDelayS();
  const same = choiceLike(scored.drill);
  return (
    <div className="mt-3" data-testid="drill-result">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <p className="num text-[34px] leading-tight" data-testid="drill-lag">
          {median === null ? "–" : latency(median, 2)}
        </p>
        <div className="min-w-0 flex-1 basis-72 space-y-0.5" role="status">
          <p className="font-semibold">{wrongOf(scored)}</p>
          <p>
            {t("drill:result.caught", { caught: score.caught.count, of: score.caught.of })}{" "}
            {median !== null && low !== null && high !== null && score.timing.spread_s !== null
              ? t("drill:result.lag_and_spread", {
                  low: latency(low, 2),
                  high: latency(high, 2),
                  spread: uncertainty(score.timing.spread_s),
                })
              : t("drill:result.too_few")}
          </p>
          <Asides scored={scored} />
        </div>
        <div className="flex flex-wrap gap-2">
          {advice !== null && (
            <Button
              look="main"
              disabled={drilling.isBusy}
              onClick={(event) => {
                event.currentTarget.blur();
                onBegin({ ...same, level: advice });
              }}
            >
              {t("drill:result.next_level", { level: t(`drill:level.${advice}`) })}
            </Button>
          )}
          {same && (
            <Button
              look={advice === null ? "main" : "plain"}
              disabled={drilling.isBusy}
              onClick={(event) => {
                event.currentTarget.blur();
                onBegin(same);
              }}
            >
              {t("drill:result.once_more")}
            </Button>
          )}
          <Button onClick={onOther}>{t("drill:result.something_else")}</Button>
        </div>
      </div>
      <LatencyPlot
        label={t("drill:result.plot", { marks: counted(score.timing.lag_s.n, "mark") })}
        values={score.answers.flatMap((answer, n) =>
          answer.lag_s === null
            ? []
            : [{ id: String(n), value: answer.lag_s, strong: answer.what === "early" }],
        )}
        from={FROM_S}
        to={TO_S}
        zero={t(`drill:result.zero_${run.instant}`)}
        median={median === null ? null : { at: median, low, high }}
        ground={(x, height) => (
          <rect
            x={x(FROM_S)}
            y={0}
            width={x(0) - x(FROM_S)}
            height={height}
            fill="var(--zone-early)"
          />
        )}
        glyph={(x, y, strong) => <MarkerRing x={x} y={y} strong={strong} />}
      />
      <Moments scored={scored} drilling={drilling} onAgain={onAgain} />
      <p className="mt-2 text-[13px] text-soft">
        {delaysOf(scored)}
        {delayS !== null && delayS > 0 && (
          <> {t("drill:result.sound_delay", { ms: Math.round(delayS * 1000) })}</>
        )}{" "}
        <Button
          look="quiet"
          className="py-0 text-[13px]"
          disabled={leaveOut.isPending}
          onClick={() => leaveOut.mutate({ id: run.id, isOut: !run.left_out })}
        >
          {run.left_out ? t("drill:result.take_in_again") : t("drill:result.leave_out")}
        </Button>
      </p>
    </div>
  );
}

/** What the animal would have been told wrongly, and on what. */
function wrongOf({ score }: Scored): string {
  if (score.wrong === 0) return t("drill:result.nothing_wrong");
  const on = Object.entries(score.false_on).map(([what, count]) =>
    t(`drill:on.${what as keyof typeof score.false_on & "fake"}`, { count }),
  );
  const early = score.early > 0 ? [t("drill:on.early", { count: score.early })] : [];
  return t("drill:result.wrong", { count: score.wrong, on: [...early, ...on].join(", ") });
}

function Asides({ scored: { score } }: { scored: Scored }) {
  const said = [
    score.foreseen > 0 && t("drill:result.foreseen", { count: score.foreseen }),
    score.faltered > 0 && t("drill:result.faltered", { count: score.faltered }),
  ].filter(Boolean);
  return said.length > 0 ? <p className="text-[13px] text-soft">{said.join(" ")}</p> : null;
}

/** How much of the lag the machine took, as far as that can be known. */
function delaysOf({ delays, run }: Scored): string {
  const screen = {
    ms: Math.round(delays.display.value_s * 1000),
    u: uncertainty(delays.display.u_s),
  };
  const press = { ms: Math.round(delays.press.value_s * 1000), u: uncertainty(delays.press.u_s) };
  const machine = t("drill:result.delays", {
    screen: screen.ms,
    screenU: screen.u,
    by: t(`drill:by.${run.by}`),
    press: press.ms,
    pressU: press.u,
  });
  if (!delays.own) return machine;
  return `${machine} ${t("drill:result.own", {
    own: latency(delays.own.value_s, 2),
    u: uncertainty(delays.own.u_s),
  })}`;
}

interface Moment {
  atS: number;
  words: string;
  isWrong: boolean;
}

/** Every moment of the drill in its order, to be seen again with the click where it fell. */
function Moments({
  scored,
  drilling,
  onAgain,
}: Pick<ResultProps, "scored" | "drilling" | "onAgain">) {
  const [seen, setSeen] = useState<number | null>(null);
  const { score } = scored;
  const moments: Moment[] = [
    ...score.answers.map((answer) => ({
      atS: answer.due_s,
      words:
        answer.lag_s !== null
          ? latency(answer.lag_s, 2)
          : t(`drill:what.${answer.what as "missed"}`),
      isWrong: answer.what !== "caught",
    })),
    ...score.false_marks.map((mark) => ({
      atS: mark.press_s,
      words: t(`drill:on_short.${mark.on}`),
      isWrong: true,
    })),
  ].sort((a, b) => a.atS - b.atS);
  return (
    <div>
      <p className="text-[13px] text-soft">{t("drill:result.see_it_again")}</p>
      <ul className="mt-1 flex flex-wrap gap-1.5">
        {moments.map((moment, n) => (
          <li key={n}>
            <button
              type="button"
              aria-pressed={seen === n}
              onClick={() => {
                setSeen(n);
                onAgain(true);
                drilling.showAgain(scored, moment.atS, () => {
                  setSeen(null);
                  onAgain(false);
                });
              }}
              className={`num h-7 rounded border px-1.5 text-[12.5px] ${
                seen === n
                  ? "border-ink bg-ink text-paper"
                  : `bg-raised hover:border-ink ${moment.isWrong ? "border-marker text-marker" : "border-line"}`
              }`}
            >
              <span>{shortClock(moment.atS)}</span> {moment.words}
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
