/** The stage's clockwork: which frame is wanted, which one the canvas shows, and playing. */

import { useCallback, useEffect, useRef, useState } from "react";

import type { FilmOut } from "../api/client";
import { ServerSource, VideoSource, WindowSource, type FrameSource } from "./frame-source";
import type { FrameTimes } from "./frame-times";
import { FrameWindow } from "./frame-window";

export const SPEEDS = [0.1, 0.25, 0.5, 0.75, 1, 1.5, 2] as const;

export interface Stage {
  /** The frame the canvas shows; null before the first picture. */
  shown: number | null;
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
  /** Run once the wanted frame is on the canvas. */
  whenShown: (then: (frame: number) => void) => void;
  toggle: () => void;
  /** Seconds of the clip at this moment, also while it plays. */
  now: () => number;
  /** Play these frames round and round until something else is asked for. */
  loop: (from: number, to: number) => void;
  looping: boolean;
  setSpeed: (speed: number) => void;
}

/** The best source this page has for a film now. */
async function bestSource(film: FilmOut, times: FrameTimes, only: string | null) {
  const copy = `/api/films/${film.id}/review.mp4`;
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
  return new ServerSource(film.id);
}

/** Runs a film's stage. `first` is the frame to begin with. */
export function useStage(film: FilmOut, times: FrameTimes, first: number) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const video = useRef<HTMLVideoElement>(null);
  const frames = useRef<FrameWindow | null>(null);
  const wantedRef = useRef(first);
  const shownRef = useRef<number | null>(null);
  const waiting = useRef<((frame: number) => void)[]>([]);
  const playingRef = useRef(false);
  const roundRef = useRef<{ from: number; to: number } | null>(null);
  const [looping, setLooping] = useState(false);
  const [wanted, setWanted] = useState(first);
  const [shown, setShown] = useState<number | null>(null);
  const [playing, setPlaying] = useState(false);
  const [speed, setSpeedState] = useState(1);
  const [way, setWay] = useState<FrameSource["way"] | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [pictures, setPictures] = useState(0);

  const draw = useCallback((frame: number, picture: CanvasImageSource, w: number, h: number) => {
    const target = canvas.current;
    if (!target) return;
    if (target.width !== w || target.height !== h) {
      target.width = w;
      target.height = h;
    }
    target.getContext("2d", { alpha: false })?.drawImage(picture, 0, 0, w, h);
    target.dataset["frame"] = String(frame);
    shownRef.current = frame;
    setShown(frame);
  }, []);

  const showWanted = useCallback(() => {
    const frame = wantedRef.current;
    const picture = frames.current?.peek(frame);
    if (!picture || playingRef.current) return;
    draw(frame, picture, picture.width, picture.height);
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
        (frame) => {
          setFault(null);
          if (frame === wantedRef.current && shownRef.current !== frame) showWanted();
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
    if (shownRef.current === wantedRef.current && !playingRef.current) then(wantedRef.current);
    else waiting.current.push(then);
  }, []);

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
      const frame = times.atMediaTime(meta.mediaTime);
      const round = roundRef.current;
      if (round && frame >= round.to) player.currentTime = times.middle(round.from);
      wantedRef.current = frame;
      setWanted(frame);
      draw(frame, player, player.videoWidth, player.videoHeight);
      player.requestVideoFrameCallback(onFrame);
    };
    player.requestVideoFrameCallback(onFrame);
    player.play().catch(stop);
  }, [draw, goTo, speed, times]);

  const toggle = useCallback(() => {
    // The picture and the player's clock may differ now: the frame last shown counts.
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
    if (playingRef.current && player) return player.currentTime;
    return times.us(wantedRef.current) / 1e6;
  }, [times]);

  const setSpeed = useCallback((next: number) => {
    setSpeedState(next);
    if (video.current) video.current.playbackRate = next;
  }, []);

  const peek = useCallback((frame: number) => frames.current?.peek(frame), []);

  const stage: Stage = {
    shown,
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
  return { stage, canvas, video };
}
