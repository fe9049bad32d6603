import { useEffect, useState } from "react";

import { Button } from "../../components/button";
import { KeyCap } from "../../components/key-cap";
import { useWide } from "../../components/use-width";
import {
  framesAround,
  framesInWords,
  kindInWords,
  saidDifferently,
  secondsOf,
  type Choice,
  type Pair,
} from "../../domain/second-look";
import { clock } from "../../domain/times";
import { t } from "../../words";

/** Frames on either side of the marks, and how many there are room for. */
const [AROUND, MOST] = [3, 18];

interface SettlePanelProps {
  pairs: Pair[];
  at: number;
  plan: Record<string, unknown>;
  names: { first: string; second: string };
  isBusy: boolean;
  onMove: (step: number) => void;
  onSettle: (chosen: Choice, frame?: number) => void;
}

/** One difference at a time, with the frames around it; a key or a frame settles it. */
export function SettlePanel(props: SettlePanelProps) {
  const { pairs, at, plan, names, isBusy, onMove, onSettle } = props;
  const pair = pairs[at];
  const keys: Record<string, () => void> = {
    ArrowLeft: () => onMove(-1),
    ArrowRight: () => onMove(1),
    ...(pair?.first && !isBusy && { "1": () => onSettle("first") }),
    ...(pair?.second && !isBusy && { "2": () => onSettle("second") }),
    ...(pair && !isBusy && { "0": () => onSettle("none") }),
  };
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const inField = event.target instanceof HTMLElement && event.target.closest("input, select");
      if (inField || event.ctrlKey || event.metaKey || event.altKey) return;
      const act = keys[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
  if (!pair) return null;
  const { first, second, settled } = pair;
  return (
    <section
      aria-label={t("second_look:settle_panel.settle")}
      className="mt-6 border-t border-ink pt-3"
    >
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h2 className="text-[18px] font-semibold">
          {t("second_look:settle_panel.kind_at_time", {
            kind: kindInWords(pair),
            time: clock(secondsOf(pair) * 1e6),
          })}
        </h2>
        <p
          role="status"
          className="flex-1 text-[15px] max-md:order-last max-md:w-full max-md:flex-none"
        >
          {inWords(pair, plan, names)}
        </p>
        <span className="num text-soft">
          {t("second_look:settle_panel.at_of", { at: at + 1, of: pairs.length })}
        </span>
        <Button onClick={() => onMove(-1)}>
          <KeyCap>←</KeyCap> {t("second_look:settle_panel.before")}
        </Button>
        <Button onClick={() => onMove(1)}>
          <KeyCap>→</KeyCap> {t("second_look:settle_panel.after")}
        </Button>
      </div>
      <Frames pair={pair} isBusy={isBusy} onPoint={(frame) => onSettle("frame", frame)} />
      <div className="mt-2 flex flex-wrap items-center gap-2">
        {first && (
          <Button look="main" disabled={isBusy} onClick={() => onSettle("first")}>
            <KeyCap>1</KeyCap> {t("second_look:settle_panel.as_named", { name: names.first })}
          </Button>
        )}
        {second && (
          <Button look="main" disabled={isBusy} onClick={() => onSettle("second")}>
            <KeyCap>2</KeyCap> {t("second_look:settle_panel.as_named", { name: names.second })}
          </Button>
        )}
        <Button disabled={isBusy} onClick={() => onSettle("none")}>
          <KeyCap>0</KeyCap> {t("second_look:settle_panel.no_such_mark")}
        </Button>
        <span className="text-[13px] text-soft">
          {settled
            ? t("second_look:settle_panel.settled_by", {
                author: settled.author,
                what: settledInWords(settled, names),
              })
            : t("second_look:settle_panel.or_press_a_frame")}
        </span>
      </div>
    </section>
  );
}

function settledInWords(
  settled: NonNullable<Pair["settled"]>,
  names: SettlePanelProps["names"],
): string {
  if (settled.chosen === "none") return t("second_look:settle_panel.no_such_mark");
  if (settled.chosen === "frame") {
    return t("second_look:settle_panel.frame_number", { frame: settled.mark?.frame ?? 0 });
  }
  return t("second_look:settle_panel.as_named", { name: names[settled.chosen] });
}

function inWords(
  pair: Pair,
  plan: Record<string, unknown>,
  names: SettlePanelProps["names"],
): string {
  if (!pair.first) return t("second_look:settle_panel.only_named_has_it", { name: names.second });
  if (!pair.second) return t("second_look:settle_panel.only_named_has_it", { name: names.first });
  const parts = saidDifferently(pair, plan).map((said) =>
    t("second_look:settle_panel.each_says", {
      one: names.first,
      first: said.first,
      other: names.second,
      second: said.second,
    }),
  );
  if (pair.frames !== 0) {
    parts.unshift(
      pair.frames === null
        ? t("second_look:settle_panel.on_two_films")
        : t("second_look:settle_panel.named_lies_apart", {
            name: names.second,
            apart: framesInWords(pair.frames),
          }),
    );
  }
  return parts.join(" ");
}

interface FramesProps {
  pair: Pair;
  isBusy: boolean;
  onPoint: (frame: number) => void;
}

/** The frames around the two marks; pointing at one lets the mark stand there. */
function Frames({ pair, isBusy, onPoint }: FramesProps) {
  // On a phone few are large enough to tell apart.
  const across = useWide() ? 9 : 3;
  const film = (pair.first ?? pair.second)?.film_id;
  const [missing, setMissing] = useState<ReadonlySet<number>>(new Set());
  const frames = framesAround(pair, AROUND, MOST).filter((frame) => !missing.has(frame));
  return (
    <div
      role="group"
      aria-label={t("second_look:settle_panel.frames_around")}
      className="mt-2 grid gap-1"
      style={{ gridTemplateColumns: `repeat(${Math.min(across, frames.length)}, minmax(0, 1fr))` }}
    >
      {frames.map((frame) => {
        const who = [
          pair.first?.frame === frame && "1",
          pair.second?.frame === frame && pair.second.film_id === film && "2",
        ].filter(Boolean);
        const stands = pair.settled?.mark?.frame === frame;
        return (
          <button
            key={`${film}-${frame}`}
            type="button"
            data-frame={frame}
            disabled={isBusy}
            aria-label={t("second_look:settle_panel.stands_on_frame", { frame })}
            onClick={() => onPoint(frame)}
            className="group text-center"
          >
            <img
              src={`/api/films/${film}/frames/${frame}.jpg?lines=240`}
              alt=""
              // The film has no such frame.
              onError={() => setMissing((old) => new Set([...old, frame]))}
              className={`aspect-video w-full rounded-[2px] bg-hair object-cover ${
                stands || who.length > 0
                  ? "outline-2 outline-offset-1 outline-ink"
                  : "group-hover:outline-1 group-hover:outline-soft"
              }`}
            />
            <span className="num mt-1 block text-[11px] text-soft group-hover:text-ink">
              {who.length > 0 && <b className="mr-1 text-ink">{who.join(" + ")}</b>}
              {stands ? t("second_look:settle_panel.stands") : frame}
            </span>
          </button>
        );
      })}
    </div>
  );
}
