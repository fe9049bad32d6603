import type { RefObject } from "react";

import { Trans, t } from "../../words";
import { KeyCap } from "../../components/key-cap";
import { useWide } from "../../components/use-width";
import { DrawnAnimal, type Animal } from "./drawn-animal";
import { asksFor, type DrillKind } from "./drill-kind";

interface StageProps {
  isRunning: boolean;
  /** What the film looks like, before it is played. */
  poster: string | null;
  /** What is drilled, or chosen to be. */
  kind: DrillKind;
  isAgain: boolean;
  isByClicker: boolean;
  /** Where something stands under it to read. */
  isSmall: boolean;
  animal: RefObject<Animal | null>;
  video: RefObject<HTMLVideoElement | null>;
  canvas: RefObject<HTMLCanvasElement | null>;
  bar: RefObject<HTMLDivElement | null>;
  stage: RefObject<HTMLDivElement | null>;
}

/** Where it happens: what is asked for above, the animal or the film, and how far it is. */
export function Stage(props: StageProps) {
  const {
    isRunning,
    kind,
    poster,
    isAgain,
    isByClicker,
    isSmall,
    animal,
    video,
    canvas,
    bar,
    stage,
  } = props;
  const isWide = useWide();
  const whom = kind.asked === "touch" ? "goat" : "pony";
  return (
    <div className="rounded border border-line bg-raised">
      <p className="flex flex-wrap items-baseline gap-x-3 px-4 pt-2 text-[17px]">
        <span>{asksFor(kind)}</span>
        <span className="text-[13px] text-soft">
          {isAgain ? (
            t("drill:stage.again_at_half_speed")
          ) : isWide || isByClicker ? (
            <Trans
              i18nKey={isByClicker ? "drill:stage.your_clicker" : "drill:stage.any_key"}
              components={{ key: <KeyCap>{t("drill:stage.esc")}</KeyCap> }}
            />
          ) : (
            t("drill:stage.tap_the_picture")
          )}
        </span>
      </p>
      <div
        ref={stage}
        data-testid="drill-stage"
        data-running={isRunning}
        className={`grid aspect-[600/272] w-full touch-none grid-rows-[100%] place-items-center ${isSmall ? "max-h-[33vh]" : "max-h-[45vh]"}`}
      >
        {kind.source === "film" ? (
          <>
            <video ref={video} className="hidden" playsInline muted preload="auto" />
            {poster && (
              <img
                src={poster}
                alt=""
                className="col-start-1 row-start-1 h-full w-full object-contain"
              />
            )}
            {/* Without a size until there is a picture. */}
            <canvas
              ref={canvas}
              width={0}
              height={0}
              role="img"
              aria-label={t("drill:stage.your_film")}
              className="col-start-1 row-start-1 max-h-full max-w-full"
            />
          </>
        ) : (
          <DrawnAnimal ref={animal} whom={whom} label={t(`drill:stage.${whom}`)} />
        )}
      </div>
      <div className="h-1 overflow-hidden rounded-b bg-hair">
        <div ref={bar} className="h-1 origin-left bg-ink" style={{ transform: "scaleX(0)" }} />
      </div>
    </div>
  );
}
