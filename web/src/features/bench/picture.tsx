import {
  useEffect,
  useRef,
  useState,
  type PointerEvent,
  type RefObject,
  type WheelEvent,
} from "react";

import type { FilmOut } from "../../api/client";
import {
  isSameView,
  regionOf,
  WHOLE,
  zoomed,
  type Region,
  type View,
} from "../../domain/picture-view";
import { copyUrl } from "../../domain/frame-source";
import { useFingers } from "./use-fingers";
import { KEPT, useKeptViews } from "./use-kept-views";
import type { Playback } from "./use-playback";
import { t } from "../../words";

const LOUPE = 168;
/** So far a finger moves for one frame, pixels: a hand's width is about a second of film. */
const STEP_PX = 14;
/** How many times larger than on the stage the loupe shows things. */
const LOUPE_ZOOM = 3;
/** Lines of the review copy: a finer original is asked of the server for the loupe. */
const COPY_LINES = 720;

interface PictureProps {
  film: FilmOut;
  playback: Playback;
  canvas: RefObject<HTMLCanvasElement | null>;
  video: RefObject<HTMLVideoElement | null>;
  height: number;
  loupe: boolean;
  onLoupe: (on: boolean) => void;
  /** Told which part of the picture is to be seen now. */
  onRegion: (region: Region) => void;
}

/**
 * The frame on the stage: zoomed with the wheel or two fingers, moved by dragging, looked at with
 * the loupe; one finger steps through the film.
 */
export function Picture(props: PictureProps) {
  const { film, playback, canvas, video, height, loupe, onLoupe, onRegion } = props;
  const box = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<View>(WHOLE);
  const { viewOf, keep } = useKeptViews(film.id, height);
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);

  const zoomBy = (factor: number, px: number, py: number) => {
    setView((old) => zoomed(old, factor, px, py));
  };
  useEffect(() => {
    const [playback, drawn] = [box.current, canvas.current];
    if (!playback || !drawn) return;
    const size = [playback.clientWidth, playback.clientHeight] as const;
    onRegion(regionOf(view, ...size, drawn.offsetWidth, drawn.offsetHeight));
  }, [view, canvas, onRegion]);
  const fromMiddle = (event: { clientX: number; clientY: number }) => {
    const bounds = box.current?.getBoundingClientRect();
    if (!bounds) return { x: 0, y: 0 };
    return {
      x: event.clientX - bounds.left - bounds.width / 2,
      y: event.clientY - bounds.top - bounds.height / 2,
    };
  };
  const wheel = (event: WheelEvent) => {
    const { x, y } = fromMiddle(event);
    zoomBy(Math.exp(-event.deltaY / 400), x, y);
  };
  const fingers = useFingers({
    box,
    // Moved about where it is zoomed, stepped through where it is not.
    stepPx: view.zoom > 1 || loupe ? null : STEP_PX,
    frame: playback.wanted,
    onFrame: playback.goTo,
    onPinch: ({ factor, from, to }) => {
      const { x, y } = fromMiddle({ clientX: to.x, clientY: to.y });
      setView((old) => {
        const moved = { ...old, x: old.x + to.x - from.x, y: old.y + to.y - from.y };
        return zoomed(moved, factor, x, y);
      });
    },
  });
  const move = (event: PointerEvent) => {
    fingers.handlers.onPointerMove(event);
    if (fingers.isPinching()) return;
    if (loupe) setAt(fromMiddle(event));
    if (event.buttons & 1 && view.zoom > 1) {
      setView((old) => ({ ...old, x: old.x + event.movementX, y: old.y + event.movementY }));
    }
  };

  return (
    <div
      ref={box}
      {...fingers.handlers}
      onWheel={wheel}
      onPointerMove={move}
      onPointerDown={(event) => {
        fingers.handlers.onPointerDown(event);
        if (loupe) setAt(fromMiddle(event));
      }}
      onPointerLeave={() => setAt(null)}
      className={`relative flex items-center justify-center overflow-hidden rounded-[3px] bg-hair ${
        loupe
          ? "cursor-none touch-none"
          : view.zoom > 1
            ? "cursor-grab touch-none"
            : // The page still scrolls up and down under the thumb.
              "touch-pan-y"
      }`}
      style={{ height }}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={t("bench:picture.the_film_frame_shown", {
          shown: playback.shown ?? t("bench:picture.not_there_yet"),
        })}
        className="max-h-full max-w-full"
        style={
          view.zoom > 1
            ? { transform: `translate(${view.x}px, ${view.y}px) scale(${view.zoom})` }
            : undefined
        }
      />
      {film.review_ready && (
        // The sound is what is needed of it; the picture is drawn on the canvas. No captions exist.
        // eslint-disable-next-line jsx-a11y/media-has-caption
        <video
          ref={video}
          src={copyUrl(film)}
          preload="auto"
          playsInline
          className="pointer-events-none absolute h-px w-px opacity-0"
        />
      )}
      {loupe && at && <Loupe film={film} playback={playback} canvas={canvas} box={box} at={at} />}
      <div className="absolute top-1.5 right-1.5 flex gap-1">
        {KEPT.map((kept) => {
          const there = viewOf(kept);
          if (!there && view.zoom === 1) return null;
          const isHere = there !== null && isSameView(there, view);
          return (
            <Corner
              key={kept}
              label={
                there
                  ? t("bench:picture.to_the_kept_with_shift", { kept })
                  : t("bench:picture.keep_this_view_for_the", { kept })
              }
              pressed={isHere}
              onPress={(shift) => {
                if (there && !shift) setView(there);
                else keep(kept, view);
              }}
            >
              {there ? kept : t("bench:picture.keep_kept", { kept })}
            </Corner>
          );
        })}
        {view.zoom > 1 && (
          <Corner label={t("bench:picture.the_whole_picture")} onPress={() => setView(WHOLE)}>
            {`${view.zoom.toFixed(1)}×`}
          </Corner>
        )}
        <Corner
          label={t("bench:picture.smaller")}
          onPress={() => zoomBy(1 / 1.5, 0, 0)}
          disabled={view.zoom === 1}
        >
          −
        </Corner>
        <Corner label={t("bench:picture.larger")} onPress={() => zoomBy(1.5, 0, 0)}>
          +
        </Corner>
        <Corner label={t("bench:picture.loupe")} pressed={loupe} onPress={() => onLoupe(!loupe)}>
          ◎
        </Corner>
      </div>
      {playback.shown === null && !playback.fault && (
        <span className="absolute text-soft">{t("bench:picture.fetching_the_frame")}</span>
      )}
      {playback.fault && (
        <p
          role="alert"
          className="absolute inset-x-4 bottom-4 rounded border border-fault bg-raised px-3 py-2"
        >
          {t("bench:picture.fault_the_marks_are_safe", { fault: playback.fault })}
        </p>
      )}
    </div>
  );
}

function Corner({
  label,
  pressed,
  disabled,
  onPress,
  children,
}: {
  label: string;
  pressed?: boolean;
  disabled?: boolean;
  onPress: (shift: boolean) => void;
  children: string;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={(event) => onPress(event.shiftKey)}
      className={`h-6 min-w-6 rounded px-1 text-[12.5px] disabled:opacity-40 ${
        pressed ? "bg-ink text-paper" : "bg-paper/85 hover:bg-paper"
      }`}
    >
      {children}
    </button>
  );
}

/** What lies under the pointer, three times larger; from the original where it is finer. */
function Loupe({
  film,
  playback,
  canvas,
  box,
  at,
}: {
  film: FilmOut;
  playback: Playback;
  canvas: RefObject<HTMLCanvasElement | null>;
  box: RefObject<HTMLDivElement | null>;
  at: { x: number; y: number };
}) {
  const glass = useRef<HTMLCanvasElement>(null);
  const frame = playback.shown;
  const fine = useFinePicture(film, playback.playing ? null : frame);
  useEffect(() => {
    const source = canvas.current;
    const target = glass.current;
    const context = target?.getContext("2d");
    const outer = box.current?.getBoundingClientRect();
    if (!source || !target || !context || !outer) return;
    const shown = source.getBoundingClientRect();
    // The point under the pointer, as a share of the picture.
    const u = (outer.left + outer.width / 2 + at.x - shown.left) / shown.width;
    const v = (outer.top + outer.height / 2 + at.y - shown.top) / shown.height;
    const picture = fine ?? source;
    const across = (picture.width / shown.width) * (LOUPE / LOUPE_ZOOM);
    context.fillStyle = "black";
    context.fillRect(0, 0, target.width, target.height);
    context.drawImage(
      picture,
      u * picture.width - across / 2,
      v * picture.height - across / 2,
      across,
      across,
      0,
      0,
      target.width,
      target.height,
    );
  });
  return (
    <canvas
      ref={glass}
      aria-hidden
      data-testid="loupe"
      width={LOUPE * 2}
      height={LOUPE * 2}
      className="pointer-events-none absolute rounded-full outline-2 outline-ink"
      style={{
        width: LOUPE,
        height: LOUPE,
        left: `calc(50% + ${at.x - LOUPE / 2}px)`,
        top: `calc(50% + ${at.y - LOUPE / 2}px)`,
      }}
    />
  );
}

/** The original's own picture of a frame, where it has more lines than the review copy. */
function useFinePicture(film: FilmOut, frame: number | null): HTMLImageElement | null {
  const [fine, setFine] = useState<{ frame: number; picture: HTMLImageElement } | null>(null);
  const isFiner = Math.min(film.height ?? 0, film.width ?? 0) > COPY_LINES;
  useEffect(() => {
    if (frame === null || !isFiner) return;
    const picture = new Image();
    picture.onload = () => setFine({ frame, picture });
    picture.src = `/api/films/${film.id}/frames/${frame}.jpg?lines=2160`;
    return () => {
      picture.onload = null;
    };
  }, [film.id, frame, isFiner]);
  return fine && fine.frame === frame ? fine.picture : null;
}
