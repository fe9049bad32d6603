import { useEffect, useRef, useState } from "react";

import { milliseconds } from "../../domain/times";
import type { FrameTimes } from "../../domain/frame-times";
import type { Region } from "../../domain/picture-view";
import { usePageWidth } from "../../components/use-width";
import { useFingers } from "./use-fingers";
import type { Playback } from "./use-playback";
import { t } from "../../words";

/** Height of a row with its distances, pixels. */
export const STRIP_ROW = 82;
/** Until the strip is there. */
const FIRST_STEP_PX = 74;
export type StripRows = 1 | 2 | 3;

/** How the neighbours are laid out: frames a row, rows, and how high a picture is, pixels. */
export interface StripLayout {
  across: number;
  rows: number;
  height: number;
}

/** The strip of a film that is wider than high: under it, as many rows as asked for. */
export function wideStrip(rows: StripRows): StripLayout {
  return { across: 9, rows, height: 58 };
}

/** More rows are lower ones, so that what stands under them can be seen too. */
const UPRIGHT_HEIGHTS = { 1: 108, 2: 84, 3: 64 };

/** The strip of an upright film: beside it, few and tall. */
export function uprightStrip(rows: StripRows): StripLayout {
  return { across: 5, rows: rows + 1, height: UPRIGHT_HEIGHTS[rows] };
}

/** The strip on a phone: as many as a thumb can tell apart. */
export function phoneStrip(rows: StripRows, isUpright: boolean): StripLayout {
  return { across: 5, rows, height: isUpright ? 84 : 44 };
}

/** The first frame of the row in which a strip has its centre. */
export function rowStart({ across, rows }: StripLayout, centre: number): number {
  const before = Math.floor((across * rows) / 2);
  return centre - before + Math.floor(before / across) * across;
}

interface ContactStripProps {
  playback: Playback;
  times: FrameTimes;
  layout: StripLayout;
  /** What pointing at a frame does now, in words. */
  purpose: string;
  onPoint: (frame: number) => void;
  /** What of each frame is shown: the region one has zoomed in on. */
  region: Region;
}

/** The neighbouring frames side by side, each with its distance from the one on the stage. */
export function ContactStrip(props: ContactStripProps) {
  const { playback, times, layout, purpose, onPoint, region } = props;
  const centre = playback.wanted;
  const count = layout.across * layout.rows;
  const first = centre - Math.floor(count / 2);
  const box = useRef<HTMLDivElement>(null);
  const width = usePageWidth();
  const [stepPx, setStepPx] = useState(FIRST_STEP_PX);
  useEffect(() => {
    // A frame goes along with the finger that holds it.
    if (box.current) setStepPx(box.current.clientWidth / layout.across);
  }, [layout.across, width]);
  const { handlers } = useFingers({ box, stepPx, frame: centre, onFrame: playback.goTo });
  return (
    <div
      ref={box}
      {...handlers}
      role="group"
      aria-label={t("bench:contact_strip.neighbouring_frames_purpose", { purpose })}
      className="grid touch-pan-y gap-1"
      style={{ gridTemplateColumns: `repeat(${layout.across}, minmax(0, 1fr))` }}
    >
      {Array.from({ length: count }, (_, place) => {
        const frame = first + place;
        if (frame < 0 || frame >= times.count) {
          return <span key={place} style={{ height: layout.height + 20 }} />;
        }
        const distance = milliseconds(times.bestS(frame) - times.bestS(centre));
        return (
          <button
            key={place}
            type="button"
            data-frame={frame}
            aria-current={frame === centre ? "true" : undefined}
            aria-label={t("bench:contact_strip.frame_frame_distance", { frame, distance })}
            // One cannot point at what is not to be seen yet.
            onClick={() =>
              (playback.peek(frame) && !playback.playing ? onPoint : playback.goTo)(frame)
            }
            className="group text-center"
            style={{ height: layout.height + 20 }}
          >
            <Thumbnail
              playback={playback}
              frame={frame}
              region={region}
              height={layout.height}
              current={frame === centre}
            />
            <span className="num mt-0.5 block text-[11px] text-soft group-hover:text-ink">
              {distance}
            </span>
          </button>
        );
      })}
    </div>
  );
}

interface ThumbnailProps {
  playback: Playback;
  frame: number;
  region: Region;
  height: number;
  current: boolean;
}

function Thumbnail({ playback, frame, region, height: shownHeight, current }: ThumbnailProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { pictures, peek } = playback;
  useEffect(() => {
    const target = canvas.current;
    const context = target?.getContext("2d");
    if (!target || !context) return;
    const picture = peek(frame);
    if (!picture) {
      context.clearRect(0, 0, target.width, target.height);
      return;
    }
    // Fill the cell with the region, cutting what sticks out at the sides.
    const { x, y, width, height } = region;
    const [w, h] = [picture.width * width, picture.height * height];
    const scale = Math.max(target.width / w, target.height / h);
    const [across, down] = [target.width / scale, target.height / scale];
    const left = picture.width * x + (w - across) / 2;
    const top = picture.height * y + (h - down) / 2;
    context.clearRect(0, 0, target.width, target.height);
    context.drawImage(picture, left, top, across, down, 0, 0, target.width, target.height);
  }, [frame, pictures, peek, region]);
  return (
    <canvas
      ref={canvas}
      width={150}
      height={(120 * shownHeight) / 58}
      style={{ height: shownHeight }}
      className={`w-full rounded-[2px] bg-hair ${
        current
          ? "outline-2 outline-offset-1 outline-ink"
          : "group-hover:outline-1 group-hover:outline-soft"
      }`}
    />
  );
}
