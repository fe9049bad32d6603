/** The sound of the frames in the strip, under them: where a marker can be placed by ear. */

import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";

import { milliseconds, round6 } from "../../domain/times";
import { freshId, type EditBody, type StoredEvent } from "../../domain/marks";
import { useCloseSound, type SoundAt } from "./sound-close";
import type { Marking } from "./use-marking";
import { copyUrl } from "../../domain/frame-source";
import type { Playback } from "./use-playback";
import { t } from "../../words";

export const LANE_HEIGHT = 40;
/** A marker placed at the hair by eye and ear lies within this, seconds. */
const HAIR_WIDTH_S = 0.002;
/** The stretch one hears, seconds, and how much slower. */
const HEARD_S = 0.1;
const HEARD_SPEED = 0.25;
/** A marker this near the hair is moved there instead of a new one, seconds. */
const SAME_S = 0.35;

interface SoundLaneProps {
  marking: Marking;
  playback: Playback;
  /** What it says where nothing was. */
  quiet: string;
  /** What may have been a marker, the likeliest or the earliest first. */
  heard: { pictureS: number }[];
  /** The first frame of the strip's row and how many it has. */
  first: number;
  count: number;
  /** Where there is no room to spare in it, what one can do stands under it. */
  isNarrow: boolean;
}

export function SoundLane(props: SoundLaneProps) {
  const { marking, playback, heard, quiet, first, count, isNarrow } = props;
  const { clip, timeline } = marking;
  const { times } = clip;
  // Picture time of the clip at each frame's left edge; the strip's cells are equally wide.
  const edges = Array.from({ length: count + 1 }, (_, n) => edgeS(first + n, times));
  const fromS = edges[0] ?? 0;
  const toS = edges[count] ?? fromS;
  const offset = timeline.soundOffsetS;
  const sound = useCloseSound(clip.film.id, clip.film.sound_ready, fromS + offset, toS + offset);
  const startS = clip.startUs / 1e6;
  const heardHere = heard.filter(
    (one) => one.pictureS >= startS + fromS && one.pictureS < startS + toS,
  );
  const likeliest = heardHere[0];
  // Where one pointed, as long as it can be seen; else where something was heard.
  const [pointedS, setPointedS] = useState<number | null>(null);
  const isPointed = pointedS !== null && pointedS >= fromS && pointedS < toS;
  const hairS = isPointed ? pointedS : likeliest ? likeliest.pictureS - startS : null;
  const pointAt = (share: number) => setPointedS(roundMs(secondAt(share, edges)));

  const pointed = (event: PointerEvent<HTMLDivElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    pointAt(Math.min(0.9999, Math.max(0, (event.clientX - box.left) / box.width)));
  };
  const stepped = (event: KeyboardEvent) => {
    const by = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    event.stopPropagation();
    const next = (hairS ?? (fromS + toS) / 2) + (by * (event.shiftKey ? 10 : 1)) / 1000;
    setPointedS(roundMs(Math.min(toS - 0.001, Math.max(fromS, next))));
  };
  const hear = useHear(copyUrl(clip.film));
  const hereS = times.bestS(playback.wanted);
  const away = hairS === null ? null : hairS - hereS;

  const told = { away: away === null ? "" : milliseconds(away) };
  const words =
    away === null
      ? quiet
      : isPointed
        ? t("bench:sound_lane.pointed_at", told)
        : t("bench:sound_lane.heard_at", told);

  return (
    <div
      role="group"
      aria-label={t("bench:sound_lane.sound_under_the_frames")}
      className="relative mt-0.5"
    >
      <div
        role="slider"
        tabIndex={0}
        aria-label={t("bench:sound_lane.instant_by_ear")}
        aria-valuemin={Math.round(fromS * 1000)}
        aria-valuemax={Math.round(toS * 1000)}
        aria-valuenow={Math.round((hairS ?? hereS) * 1000)}
        aria-valuetext={
          away === null
            ? words
            : t("bench:sound_lane.away_from_this_frame", { away: milliseconds(away) })
        }
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          pointed(event);
        }}
        onPointerMove={(event) => {
          if (event.buttons & 1) pointed(event);
        }}
        onKeyDown={stepped}
        className="relative cursor-crosshair touch-none rounded-[2px] bg-hair/60"
        style={{ height: LANE_HEIGHT }}
      >
        <Wave sound={sound} offset={offset} edges={edges} />
        {hairS !== null && (
          <span
            aria-hidden
            data-testid="hair"
            data-s={startS + hairS}
            className="absolute inset-y-0 w-[2px] -translate-x-px bg-marker"
            style={{ left: `${shareAt(hairS, edges) * 100}%` }}
          />
        )}
      </div>
      {/* At the end where the hair is not: what one looks at stays free. */}
      <div
        className={`flex items-center gap-1 text-[12px] ${
          isNarrow
            ? "mt-1"
            : hairS !== null && shareAt(hairS, edges) > 0.5
              ? "absolute inset-y-0 left-1"
              : "absolute inset-y-0 right-1"
        }`}
      >
        <span className="num rounded bg-paper px-1 text-soft">{words}</span>
        {hairS !== null && (
          <>
            <button
              type="button"
              onClick={() => hear(hairS + offset)}
              title={t("bench:sound_lane.hear_the_tenth_of_a")}
              className={BUTTON}
            >
              {t("bench:sound_lane.hear")}
            </button>
            <button
              type="button"
              onClick={() => marking.log.apply(markAt(marking, startS + hairS))}
              title={t("bench:sound_lane.place_the_marker_at_this")}
              className={BUTTON}
            >
              {t("bench:sound_lane.marker_here")}
            </button>
          </>
        )}
      </div>
    </div>
  );
}

const BUTTON =
  "h-[22px] rounded border border-line bg-raised px-1.5 whitespace-nowrap hover:border-ink disabled:opacity-50";

/** The marker at an instant of the session's picture, in the sound's own time; or the near one. */
function markAt(marking: Marking, pictureS: number): EditBody[] {
  const { timeline, events } = marking;
  const t = round6(pictureS + timeline.soundOffsetS + HAIR_WIDTH_S / 2);
  const near = events
    .filter((e) => e.kind === "marker" && Math.abs(timeline.bestS(e) - pictureS) <= SAME_S)
    .sort(
      (a, b) => Math.abs(timeline.bestS(a) - pictureS) - Math.abs(timeline.bestS(b) - pictureS),
    )[0];
  const event: StoredEvent = {
    marker: "event",
    ...(near ?? { id: freshId(), kind: "marker" }),
    t,
    width: HAIR_WIDTH_S,
    source: "audio",
  };
  delete event.frame;
  delete event["pts"];
  delete event["clip"];
  return [{ op: "put", event }];
}

/** How finely it is drawn: columns across the strip. */
const COLUMNS = 708;

function Wave({ sound, offset, edges }: { sound: SoundAt; offset: number; edges: number[] }) {
  const columns = Array.from({ length: COLUMNS }, (_, x) =>
    loudest(
      sound,
      secondAt(x / COLUMNS, edges) + offset,
      secondAt((x + 1) / COLUMNS, edges) + offset,
    ),
  );
  const most = Math.max(12, ...columns.map((c) => (c ? Math.max(c.high, -c.low) : 0)));
  const middle = LANE_HEIGHT / 2;
  let wave = "";
  let band = "";
  columns.forEach((c, x) => {
    if (!c) return;
    const share = Math.min(1, Math.max(0, (c.clickDb + 65) / 60));
    band += `M${x + 0.5} ${LANE_HEIGHT}v${(-LANE_HEIGHT * share).toFixed(1)}`;
    const top = middle - (c.high / most) * (middle - 2);
    const bottom = middle - (c.low / most) * (middle - 2);
    wave += `M${x + 0.5} ${top.toFixed(1)}V${Math.max(bottom, top + 0.8).toFixed(1)}`;
  });
  return (
    <svg
      aria-hidden
      viewBox={`0 0 ${COLUMNS} ${LANE_HEIGHT}`}
      preserveAspectRatio="none"
      className="absolute inset-0 h-full w-full"
    >
      <path d={band} stroke="var(--marker)" strokeWidth={1} opacity={0.3} />
      <path d={wave} stroke="var(--ink)" strokeWidth={1} />
    </svg>
  );
}

function loudest(sound: SoundAt, fromS: number, toS: number) {
  let found = sound(fromS);
  for (let s = fromS + 0.0005; s < toS; s += 0.0005) {
    const next = sound(s);
    if (!next) continue;
    found = found
      ? {
          low: Math.min(found.low, next.low),
          high: Math.max(found.high, next.high),
          clickDb: Math.max(found.clickDb, next.clickDb),
        }
      : next;
  }
  return found;
}

/** Plays a tenth of a second around an instant of the film's sound, slowly, with its true pitch gone. */
function useHear(url: string) {
  const player = useRef<HTMLAudioElement | null>(null);
  const timer = useRef(0);
  useEffect(
    () => () => {
      window.clearTimeout(timer.current);
      player.current?.pause();
      player.current = null;
    },
    [url],
  );
  return (s: number) => {
    const audio = (player.current ??= new Audio(url));
    window.clearTimeout(timer.current);
    audio.pause();
    audio.playbackRate = HEARD_SPEED;
    audio.preservesPitch = false;
    audio.currentTime = Math.max(0, s - HEARD_S / 2);
    audio.onseeked = () => {
      void audio.play();
      const lengthMs = (HEARD_S / HEARD_SPEED) * 1000;
      timer.current = window.setTimeout(() => audio.pause(), lengthMs);
    };
  };
}

/** When a frame begins to be shown, seconds of the clip; beyond either end as if frames went on. */
function edgeS(frame: number, times: Marking["clip"]["times"]): number {
  const within = times.clamp(frame);
  const us = frame >= times.count ? times.durationUs : times.us(within);
  const beyond = frame < 0 ? frame : Math.max(0, frame - times.count);
  return us / 1e6 + (beyond * times.widthUs(0)) / 1e6;
}

function secondAt(share: number, edges: number[]): number {
  const cells = edges.length - 1;
  const cell = Math.min(cells - 1, Math.max(0, Math.floor(share * cells)));
  const [a = 0, b = 0] = [edges[cell], edges[cell + 1]];
  return a + (share * cells - cell) * (b - a);
}

function shareAt(s: number, edges: number[]): number {
  const cells = edges.length - 1;
  const after = edges.findIndex((edge) => edge > s);
  const cell = after < 0 ? cells - 1 : Math.max(0, after - 1);
  const [a = 0, b = 1] = [edges[cell], edges[cell + 1]];
  return (cell + (s - a) / (b - a || 1)) / cells;
}

function roundMs(s: number): number {
  return Math.round(s * 1000) / 1000;
}
