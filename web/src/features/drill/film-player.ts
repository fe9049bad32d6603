/** Plays a drill's pieces of film one after another, and knows which picture was seen when. */

import type { FilmOut } from "../../api/client";
import { DrillRecord, middle, type Drill, type Measured } from "../../domain/drill";
import { copyUrl } from "../../domain/frame-source";
import type { FrameTimes } from "../../domain/frame-times";
import { grab } from "../../domain/live-picture";
import { round6 } from "../../domain/times";
import type { Player } from "./drawn-player";

type Piece = Drill["pieces"][number];

export interface Screen {
  video: HTMLVideoElement;
  canvas: HTMLCanvasElement;
  films: readonly FilmOut[];
  times: ReadonlyMap<string, FrameTimes>;
}

interface Told {
  onShare: (share: number) => void;
  onDone: (measured: Measured) => void;
  /** A film does not play. */
  onFault: () => void;
}

/** Starts a drill on films. */
export function playFilm(drill: Drill, screen: Screen, { onShare, onDone, onFault }: Told): Player {
  const record = new DrillRecord(drill.windows);
  const gone = new AbortController();
  const lengthS = drill.pieces.reduce((sum, piece) => sum + piece.to_s - piece.from_s, 0);
  /** What of the page's clock is what of the drill's, from where each piece began to move. */
  const anchors: { ms: number; s: number; endS: number }[] = [];
  const refresh = refreshes(gone.signal);

  async function all() {
    for (const piece of drill.pieces) {
      let first: number | null = null;
      let anchor: { ms: number; s: number } | null = null;
      record.rest();
      await playPiece(piece, screen, 1, gone.signal, (filmS, ms) => {
        first ??= filmS;
        const atS = piece.at_s + filmS - piece.from_s;
        // The picture stands for a moment before it begins to move: time runs from there.
        if (anchor === null && filmS > first) {
          anchor = { ms, s: atS };
          anchors.push({ ...anchor, endS: piece.at_s + piece.to_s - piece.from_s });
        }
        if (anchor !== null) record.frame(atS, anchor.s + (ms - anchor.ms) / 1000);
        onShare(Math.min(1, atS / lengthS));
      });
      if (gone.signal.aborted) return;
    }
    gone.abort();
    onShare(0);
    onDone(record.measured(middle(refresh)));
  }
  all().catch(() => {
    if (!gone.signal.aborted) onFault();
    gone.abort();
  });
  const timeOf = (ms: number) => {
    const anchor = anchors.findLast((one) => one.ms <= ms);
    if (!anchor) return null;
    const atS = round6(anchor.s + (ms - anchor.ms) / 1000);
    // Between two pieces nothing is played.
    return atS > anchor.endS ? null : atS;
  };
  return {
    timeOf,
    press: (atMs, by) => {
      const atS = timeOf(atMs);
      if (atS !== null) record.press(atS, by);
    },
    stop: () => {
      gone.abort();
      screen.video.pause();
      onShare(0);
    },
  };
}

/** The display's own frames while something else is played, seconds between them. */
function refreshes(until: AbortSignal): number[] {
  const gaps: number[] = [];
  let last: number | null = null;
  const frame = (ms: number) => {
    if (last !== null) gaps.push((ms - last) / 1000);
    last = ms;
    if (!until.aborted) requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
  return gaps;
}

/** Shows a part of a drill again, with the marks where they fell. Returns how to stop it. */
export function showFilmAgain(
  piece: Piece,
  screen: Screen,
  again: { speed: number; pressesS: readonly number[]; onClick: () => void; onDone: () => void },
): () => void {
  const gone = new AbortController();
  const left = [...again.pressesS];
  playPiece(piece, screen, again.speed, gone.signal, (filmS) => {
    while (left[0] !== undefined && left[0] <= piece.at_s + filmS - piece.from_s) {
      left.shift();
      again.onClick();
    }
  })
    .catch(() => undefined)
    .finally(() => {
      // Stopped for another: that one says when it is done.
      if (!gone.signal.aborted) again.onDone();
    });
  return () => {
    gone.abort();
    screen.video.pause();
  };
}

/** Plays one piece to its end; `onPicture` hears of each picture in the moment it is painted. */
async function playPiece(
  piece: Piece,
  { video, canvas, films, times }: Screen,
  speed: number,
  until: AbortSignal,
  onPicture: (filmS: number, ms: number) => void,
): Promise<void> {
  const film = films.find(({ id }) => id === piece.clip);
  const index = times.get(piece.clip);
  if (!film || !index) throw new Error(piece.clip);
  if (video.dataset["film"] !== film.id) {
    video.src = copyUrl(film);
    video.dataset["film"] = film.id;
    await told(video, "loadedmetadata", until);
  }
  video.pause();
  video.muted = true;
  video.playbackRate = speed;
  const seeked = told(video, "seeked", until);
  video.currentTime = index.middle(index.atUs(Math.round(piece.from_s * 1e6)));
  await seeked;
  await new Promise<void>((resolve, reject) => {
    const onFrame = (ms: number, meta: VideoFrameCallbackMetadata) => {
      if (until.aborted) return resolve();
      const picture = grab(video);
      const frame = index.atMediaTime(picture ? picture.timestamp / 1e6 : meta.mediaTime);
      paint(canvas, picture ?? video, video);
      picture?.close();
      const filmS = index.us(frame) / 1e6;
      onPicture(filmS, ms);
      if (filmS < piece.to_s && frame < index.count - 1) video.requestVideoFrameCallback(onFrame);
      else resolve();
    };
    video.requestVideoFrameCallback(onFrame);
    video.addEventListener("ended", () => resolve(), { once: true });
    until.addEventListener("abort", () => resolve(), { once: true });
    video.play().catch(reject);
  });
  video.pause();
}

function paint(canvas: HTMLCanvasElement, picture: CanvasImageSource, video: HTMLVideoElement) {
  if (canvas.width !== video.videoWidth || canvas.height !== video.videoHeight) {
    canvas.width = video.videoWidth;
    canvas.height = video.videoHeight;
  }
  canvas.getContext("2d", { alpha: false })?.drawImage(picture, 0, 0, canvas.width, canvas.height);
}

function told(video: HTMLVideoElement, name: string, until: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    video.addEventListener(name, () => resolve(), { once: true });
    video.addEventListener("error", () => reject(new Error(name)), { once: true });
    until.addEventListener("abort", () => reject(new Error("stopped")), { once: true });
  });
}
