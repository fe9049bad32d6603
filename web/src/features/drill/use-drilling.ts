import { useCallback, useEffect, useRef, useState } from "react";

import { Refused } from "../../api/client";
import type { Drill, Measured } from "../../domain/drill";
import { t } from "../../words";
import { playDrawn, type Player } from "./drawn-player";
import type { Animal } from "./drawn-animal";
import { playFilm, type Screen } from "./film-player";
import type { Choice } from "./use-choice";
import { useClick } from "./use-click";
import { useBeginDrill } from "./use-drills";
import { useEar } from "./use-ear";
import { usePresses } from "./use-presses";
import { useSeenAgain } from "./use-seen-again";
import { useSending } from "./use-sending";

interface DrillingParts {
  choice: Choice;
  screen: Pick<Screen, "films" | "times"> | null;
  onDone: (id: string) => void;
}

export type Drilling = ReturnType<typeof useDrilling>["drilling"];

/** Begins, plays and stops a drill. */
export function useDrilling({ choice, screen, onDone }: DrillingParts) {
  const [drill, setDrill] = useState<Drill | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const animal = useRef<Animal>(null);
  const video = useRef<HTMLVideoElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  const player = useRef<Player | null>(null);
  const click = useClick();
  const ear = useEar();
  const begin = useBeginDrill();
  const over = useCallback(() => setDrill(null), []);
  const sending = useSending({ onSent: onDone, onFault: setFault, onTried: over });

  const screenNow = (): Screen | null =>
    screen && video.current && canvas.current
      ? { ...screen, video: video.current, canvas: canvas.current }
      : null;
  const again = useSeenAgain({ animal, screenNow, sound: click.sound });

  const stop = () => {
    player.current?.stop();
    player.current = null;
    ear.close();
    setDrill(null);
  };
  const fail = (said: string) => {
    stop();
    setFault(said);
  };
  // Nothing goes on playing where one has left the page.
  useEffect(() => () => player.current?.stop(), []);

  const done = (id: string, measured: Measured) => {
    const timeOf = player.current?.timeOf;
    player.current = null;
    const heard = ear.heard();
    // Nothing came from the microphone: that says nothing about the hand.
    if (heard === null || !timeOf) return fail(t("drill:page.no_microphone"));
    const placed = (clicksS: number[]) =>
      clicksS.flatMap((s) => {
        const atS = heard ? timeOf(heard.startMs + s * 1000) : null;
        return atS !== null && atS >= 0 ? [atS] : [];
      });
    sending.send({ id, measured, heard: heard ? { pcm: heard.pcm, placed } : null });
  };

  const play = (begun: Drill) => {
    const told = {
      onShare: (share: number) => {
        if (bar.current) bar.current.style.transform = `scaleX(${share})`;
      },
      onDone: (measured: Measured) => done(begun.id, measured),
      onFault: () => fail(t("drill:page.film_does_not_play")),
    };
    ear.listen();
    const films = screenNow();
    if (begun.source === "drawn" && animal.current) {
      player.current = playDrawn(begun, animal.current, told);
    } else if (begun.source === "film" && films) {
      player.current = playFilm(begun, films, told);
    } else told.onFault();
  };

  const start = async (choice: Choice) => {
    setFault(null);
    again.stop();
    if (choice.isByClicker) {
      try {
        await ear.open();
      } catch {
        return fail(t("drill:page.no_microphone"));
      }
    } else if (choice.hasClick) click.ready();
    const { instant, seconds, sessionId, level, asked } = choice;
    const what = sessionId ? { session_id: sessionId } : { level };
    begin.mutate(
      { instant, seconds, asked, ...what },
      {
        onSuccess: setDrill,
        onError: (error) =>
          fail(error instanceof Refused ? error.message : t("drill:page.no_answer")),
      },
    );
  };

  const stage = usePresses({
    isOn: drill !== null,
    onPress: (atMs, by) => {
      // The hand that holds a clicker presses nothing else.
      if (choice.isByClicker) return;
      player.current?.press(atMs, by);
      if (choice.hasClick) click.sound();
    },
    onStop: stop,
  });

  // The stage is drawn for it first.
  useEffect(() => {
    if (!drill || player.current !== null) return;
    // On a phone what was chosen stands under it.
    stage.current?.scrollIntoView({ block: "nearest" });
    play(drill);
    // Once for each drill.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [drill]);

  const drilling = {
    drill,
    fault,
    resend: sending.resend,
    isBusy: begin.isPending || sending.isSending,
    isReady: choice.sessionId === null || screen !== null,
    /** Begin what is chosen, or that with other values. */
    begin: (values: Partial<Choice> = {}) => void start({ ...choice, ...values }),
    stop,
    showAgain: again.show,
    clickDelayS: click.delayS,
  };
  return { drilling, animal, video, canvas, bar, stage };
}
