import { useCallback, useEffect, useRef, useState } from "react";

import { Refused } from "../../api/client";
import type { Drill, Measured, Scored } from "../../domain/drill";
import { t } from "../../words";
import { ClickSound } from "./click-sound";
import { ClickerEar } from "./clicker-ear";
import { playDrawn, showDrawnAgain, type Player } from "./drawn-player";
import type { Animal } from "./drawn-animal";
import { playFilm, showFilmAgain, type Screen } from "./film-player";
import type { Choice } from "./use-choice";
import { useBeginDrill, useFinishDrill, type Done } from "./use-drills";
import { usePresses } from "./use-presses";

interface DeskParts {
  choice: Choice;
  screen: Pick<Screen, "films" | "times"> | null;
  onDone: (id: string) => void;
}

/** So much slower a mark is shown again. */
const AGAIN_SPEED = 0.5;
/** Seen again from so long before to so long after, seconds. */
const AGAIN_S = [1.2, 1.2] as const;

export type DrillDesk = ReturnType<typeof useDrillDesk>["desk"];

/** Begins, plays, stops and sends a drill, and shows parts of it again. */
export function useDrillDesk({ choice, screen, onDone }: DeskParts) {
  const [drill, setDrill] = useState<Drill | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  /** Done, and not sent yet: nothing of it is lost while the page stands. */
  const [unsent, setUnsent] = useState<Done[]>([]);
  const animal = useRef<Animal>(null);
  const video = useRef<HTMLVideoElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  const player = useRef<Player | null>(null);
  const again = useRef<(() => void) | null>(null);
  const click = useRef<ClickSound | null>(null);
  const ear = useRef<ClickerEar | null>(null);
  const begin = useBeginDrill();
  const finish = useFinishDrill();

  const sound = useCallback(() => {
    click.current ??= new ClickSound();
    click.current.sound();
  }, []);
  useEffect(
    () => () => {
      player.current?.stop();
      again.current?.();
      click.current?.close();
      click.current = null;
      ear.current?.close();
      ear.current = null;
    },
    [],
  );

  const hush = useCallback(() => {
    ear.current?.close();
    ear.current = null;
  }, []);
  const stop = useCallback(() => {
    player.current?.stop();
    player.current = null;
    hush();
    setDrill(null);
  }, [hush]);

  const send = useCallback(
    (one: Done) => {
      setFault(null);
      finish.mutate(one, {
        onSuccess: () => {
          setUnsent((all) => all.filter(({ id }) => id !== one.id));
          onDone(one.id);
        },
        onError: (error) => {
          setFault(error instanceof Refused ? error.message : t("drill:page.not_sent"));
          setUnsent((all) => [...all.filter(({ id }) => id !== one.id), one]);
        },
        onSettled: () => setDrill(null),
      });
    },
    [finish, onDone],
  );

  const partsOf = useCallback((): Screen | null => {
    return screen && video.current && canvas.current
      ? { ...screen, video: video.current, canvas: canvas.current }
      : null;
  }, [screen]);

  const play = useCallback(
    (begun: Drill) => {
      const told = {
        onShare: (share: number) => {
          if (bar.current) bar.current.style.transform = `scaleX(${share})`;
        },
        onDone: (measured: Measured) => {
          const timeOf = player.current?.timeOf;
          player.current = null;
          const heard = ear.current?.heard();
          if (heard === null) {
            // Nothing came from the microphone: that says nothing about the hand.
            stop();
            setFault(t("drill:page.no_microphone"));
            return;
          }
          send({
            id: begun.id,
            measured,
            heard:
              heard && timeOf
                ? {
                    pcm: heard.pcm,
                    placed: (clicksS) =>
                      clicksS
                        .map((s) => timeOf(heard.startMs + s * 1000))
                        .filter((s) => s !== null && s >= 0) as number[],
                  }
                : null,
          });
          hush();
        },
        onFault: () => {
          stop();
          setFault(t("drill:page.film_does_not_play"));
        },
      };
      ear.current?.listen();
      if (begun.source === "drawn") {
        if (animal.current) player.current = playDrawn(begun, animal.current, told);
      } else {
        const parts = partsOf();
        if (parts) player.current = playFilm(begun, parts, told);
        else told.onFault();
      }
    },
    [hush, partsOf, send, stop],
  );

  const start = async (choice: Choice) => {
    setFault(null);
    again.current?.();
    // A page may only sound once somebody has pressed something.
    if (choice.hasClick && !choice.isByClicker) click.current ??= new ClickSound();
    if (choice.isByClicker) {
      try {
        hush();
        ear.current = await ClickerEar.open();
      } catch {
        setFault(t("drill:page.no_microphone"));
        return;
      }
    }
    const { instant, seconds, sessionId, level, asked } = choice;
    begin.mutate(
      sessionId
        ? { instant, seconds, asked, session_id: sessionId }
        : { instant, seconds, asked, level },
      {
        onSuccess: setDrill,
        onError: (error) => {
          hush();
          setFault(error instanceof Refused ? error.message : t("drill:page.no_answer"));
        },
      },
    );
  };

  const stage = usePresses({
    isOn: drill !== null,
    onPress: (atMs, by) => {
      // The hand that holds a clicker presses nothing else.
      if (choice.isByClicker) return;
      player.current?.press(atMs, by);
      if (choice.hasClick) sound();
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

  /** Show again what was around a moment of a finished drill. */
  const showAgain = (scored: Scored, atS: number, onDone: () => void) => {
    again.current?.();
    const [before, after] = AGAIN_S;
    const { presses } = pressesOf(scored);
    if (scored.drill.source === "drawn" && animal.current) {
      again.current = showDrawnAgain(scored.drill, animal.current, {
        fromS: Math.max(0, atS - before),
        toS: atS + after,
        speed: AGAIN_SPEED,
        presses,
        onClick: sound,
        onDone,
      });
      return;
    }
    const parts = partsOf();
    const piece = scored.drill.pieces.findLast((one) => one.at_s <= atS);
    if (!parts || !piece) return onDone();
    again.current = showFilmAgain(piece, parts, {
      speed: AGAIN_SPEED,
      pressesS: presses.filter(
        (s) => s >= piece.at_s && s <= piece.at_s + piece.to_s - piece.from_s,
      ),
      onClick: sound,
      onDone,
    });
  };

  const desk = {
    drill,
    fault,
    resend: unsent.length > 0 ? () => unsent.forEach(send) : null,
    isBusy: begin.isPending || finish.isPending,
    isReady: choice.sessionId === null || screen !== null,
    /** Begin what is chosen, or that with other values. */
    begin: (values: Partial<Choice> = {}) => void start({ ...choice, ...values }),
    stop,
    showAgain,
    clickDelayS: () => click.current?.delayS ?? null,
  };
  return { desk, animal, video, canvas, bar, stage };
}

/** Everything that was pressed in a drill, in its order. */
function pressesOf({ score }: Scored): { presses: number[] } {
  const answered = score.answers.flatMap(({ press_s }) => (press_s === null ? [] : [press_s]));
  const others = score.false_marks.map(({ press_s }) => press_s);
  return { presses: [...answered, ...others].sort((a, b) => a - b) };
}
