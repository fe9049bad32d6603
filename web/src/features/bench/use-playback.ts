/** The stage's clockwork: which frame is wanted, which one the canvas shows, and playing. */

import { useCallback, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

import type { FilmOut } from "../../api/client";
import {
  copyUrl,
  ServerSource,
  VideoSource,
  WindowSource,
  type FrameSource,
} from "../../domain/frame-source";
import { grab } from "../../domain/live-picture";
import { PieceSource } from "../../domain/piece-source";
import type { FrameTimes } from "../../domain/frame-times";
import { FrameWindow } from "../../domain/frame-window";

export const SPEEDS = [0.1, 0.25, 0.5, 0.75, 1, 1.5, 2] as const;

export interface Playback {
  /** The frame the canvas shows; null before the first picture. */
  shown: number | null;
  /** The canvas shows the wanted frame, decoded exactly: a mark can stand on it. */
  certain: boolean;
  /** The frame asked for; differs from `shown` while its picture is on the way. */
  wanted: number;
  playing: boolean;
  speed: number;
  way: FrameSource["way"] | null;
  fault: string | null;
  /** Counts pictures that came, for those who draw neighbours. */
  pictures: number;
  peek: (frame: number) => ImageBitmap | undefined;
  goTo: (frame: number) => void;
  /** Run once the wanted frame is on the canvas for certain; not at all where it is left before. */
  whenShown: (then: (frame: number) => void) => void;
  toggle: () => void;
  /** Seconds of the clip one sees at this moment, also while it plays. */
  now: () => number;
  /** Play these frames round and round until something else is asked for. */
  loop: (from: number, to: number) => void;
  looping: boolean;
  setSpeed: (speed: number) => void;
}

/** The best source this page has for a film now. */
async function bestSource(film: FilmOut, times: FrameTimes, only: string | null) {
  const copy = copyUrl(film);
  if (film.review_ready && only !== "server") {
    if (only !== "video") {
      try {
        return await WindowSource.open(copy, times);
      } catch {
        // The page cannot decode by itself; a video element still can.
      }
    }
    return new VideoSource(copy, times);
  }
  return only === "server" ? new ServerSource(film.id) : new PieceSource(film.id, times);
}

type Paintable = ImageBitmap | VideoFrame | HTMLVideoElement;

function sizeOf(picture: Paintable): [number, number] {
  if (picture instanceof HTMLVideoElement) return [picture.videoWidth, picture.videoHeight];
  if ("displayWidth" in picture) return [picture.displayWidth, picture.displayHeight];
  return [picture.width, picture.height];
}

/** Runs a film's stage. `first` is the frame to begin with. */
export function usePlayback(film: FilmOut, times: FrameTimes, first: number) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const video = useRef<HTMLVideoElement>(null);
  const frames = useRef<FrameWindow | null>(null);
  const wantedRef = useRef(first);
  const shownRef = useRef<number | null>(null);
  const exactRef = useRef(false);
  const drawnAt = useRef(0);
  const waiting = useRef<((frame: number) => void)[]>([]);
  const playingRef = useRef(false);
  const roundRef = useRef<{ from: number; to: number } | null>(null);
  const [looping, setLooping] = useState(false);
  const [wanted, setWanted] = useState(first);
  const [shown, setShown] = useState<number | null>(null);
  const [exact, setExact] = useState(false);
  const [playing, setPlaying] = useState(false);
  const [speed, setSpeedState] = useState(1);
  const [way, setWay] = useState<FrameSource["way"] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [pictures, setPictures] = useState(0);

  /** Paint a frame and name it, in one go: nothing may be read off between the two. */
  const draw = useCallback((frame: number, picture: Paintable, isExact: boolean) => {
    const target = canvas.current;
    if (!target) return;
    const [w, h] = sizeOf(picture);
    if (target.width !== w || target.height !== h) {
      target.width = w;
      target.height = h;
    }
    target.getContext("2d", { alpha: false })?.drawImage(picture, 0, 0, w, h);
    target.dataset["frame"] = String(frame);
    shownRef.current = frame;
    exactRef.current = isExact;
    drawnAt.current = performance.now();
    flushSync(() => {
      setShown(frame);
      setExact(isExact);
    });
  }, []);

  const showWanted = useCallback(() => {
    const frame = wantedRef.current;
    if (playingRef.current) return;
    if (shownRef.current !== frame || !exactRef.current) {
      const picture = frames.current?.peek(frame);
      if (!picture) return;
      draw(frame, picture, true);
    }
    for (const then of waiting.current.splice(0)) then(frame);
  }, [draw]);

  useEffect(() => {
    let gone = false;
    let counting = 0;
    const only = new URLSearchParams(window.location.search).get("frames");
    void bestSource(film, times, only).then((source) => {
      if (gone) return source.close();
      const opened = new FrameWindow(
        source,
        times,
        (frame, picture, isAskedFor) => {
          setFault(null);
          if (frame === wantedRef.current) showWanted();
          // On the way to a frame that is not there yet one sees where one is.
          else if (isAskedFor && !playingRef.current && shownRef.current !== wantedRef.current) {
            draw(frame, picture, true);
          }
          counting ||= requestAnimationFrame(() => {
            counting = 0;
            setPictures((n) => n + 1);
          });
        },
        (error) => setFault(error instanceof Error ? error.message : String(error)),
      );
      frames.current = opened;
      setWay(source.way);
      opened.moveTo(wantedRef.current);
    });
    return () => {
      gone = true;
      cancelAnimationFrame(counting);
      frames.current?.close();
      frames.current = null;
    };
    // Only another film, or its review copy becoming ready, opens another source.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [film.id, film.review_ready, times]);

  const goTo = useCallback(
    (frame: number) => {
      const target = times.clamp(frame);
      if (playingRef.current) {
        video.current?.pause();
        playingRef.current = false;
        setPlaying(false);
      }
      roundRef.current = null;
      setLooping(false);
      // An action that waited for another frame is off.
      if (target !== wantedRef.current) waiting.current.length = 0;
      wantedRef.current = target;
      setWanted(target);
      frames.current?.moveTo(target);
      showWanted();
    },
    [times, showWanted],
  );

  const whenShown = useCallback((then: (frame: number) => void) => {
    const isCertain = shownRef.current === wantedRef.current && exactRef.current;
    if (isCertain && !playingRef.current) then(wantedRef.current);
    else waiting.current.push(then);
  }, []);

  /** Paint what the player shows now, under the number the picture itself bears. */
  const paintLive = useCallback(
    (player: HTMLVideoElement, mediaTime: number) => {
      const picture = grab(player);
      // Without pictures that say when they belong (no secure context) the player's word must do;
      // it may be a frame or two off, and nothing is exact before the film stands still.
      const frame = times.atMediaTime(picture ? picture.timestamp / 1e6 : mediaTime);
      wantedRef.current = frame;
      setWanted(frame);
      draw(frame, picture ?? player, false);
      picture?.close();
    },
    [draw, times],
  );

  const play = useCallback(() => {
    const player = video.current;
    if (!player) return;
    player.playbackRate = speed;
    player.currentTime = times.middle(wantedRef.current);
    playingRef.current = true;
    setPlaying(true);
    const stop = () => {
      if (playingRef.current) goTo(shownRef.current ?? wantedRef.current);
    };
    player.onended = stop;
    const onFrame = (_now: number, meta: VideoFrameCallbackMetadata) => {
      if (!playingRef.current) return;
      player.requestVideoFrameCallback(onFrame);
      // What it still shows of where it was before.
      if (player.seeking) return;
      paintLive(player, meta.mediaTime);
      const frame = shownRef.current ?? wantedRef.current;
      const round = roundRef.current;
      if (round && frame >= round.to) player.currentTime = times.middle(round.from);
    };
    player.requestVideoFrameCallback(onFrame);
    player.play().catch(stop);
  }, [goTo, paintLive, speed, times]);

  const toggle = useCallback(() => {
    // The picture and the player's clock may differ now: the frame last painted counts, and is
    // painted once more from the exact source.
    if (playingRef.current) goTo(shownRef.current ?? wantedRef.current);
    else play();
  }, [goTo, play]);

  const loop = useCallback(
    (from: number, to: number) => {
      goTo(from);
      roundRef.current = { from, to };
      setLooping(true);
      play();
    },
    [goTo, play],
  );

  const now = useCallback(() => {
    const player = video.current;
    if (!playingRef.current || !player) return times.us(wantedRef.current) / 1e6;
    // The hand answers to the picture, not to the player's clock; since it came, time has gone on
    // within its own interval.
    const frame = shownRef.current ?? wantedRef.current;
    const since = ((performance.now() - drawnAt.current) / 1000) * player.playbackRate;
    const next = times.us(times.clamp(frame + 1)) / 1e6;
    return Math.min(times.us(frame) / 1e6 + since, Math.max(next, times.us(frame) / 1e6));
  }, [times]);

  const setSpeed = useCallback((next: number) => {
    setSpeedState(next);
    if (video.current) video.current.playbackRate = next;
  }, []);

  const peek = useCallback((frame: number) => frames.current?.peek(frame), []);

  const playback: Playback = {
    shown,
    certain: exact && shown === wanted && !playing,
    wanted,
    playing,
    speed,
    way,
    fault,
    pictures,
    peek,
    goTo,
    whenShown,
    toggle,
    now,
    loop,
    looping,
    setSpeed,
  };
  return { playback, canvas, video };
}
