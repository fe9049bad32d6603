import { useCallback, useEffect, useRef, type RefObject } from "react";

import type { Scored } from "../../domain/drill";
import type { Animal } from "./drawn-animal";
import { showDrawnAgain } from "./drawn-player";
import { showFilmAgain, type Screen } from "./film-player";

/** So much slower a mark is shown again. */
const SPEED = 0.5;
/** From so long before it to so long after, seconds. */
const BEFORE_S = 1.2;
const AFTER_S = 1.2;

interface SeenAgainParts {
  animal: RefObject<Animal | null>;
  screenNow: () => Screen | null;
  sound: () => void;
}

/** Shows again what was around a moment of a finished drill, with the click where it fell. */
export function useSeenAgain({ animal, screenNow, sound }: SeenAgainParts) {
  const running = useRef<(() => void) | null>(null);
  const stop = useCallback(() => {
    running.current?.();
    running.current = null;
  }, []);
  useEffect(() => stop, [stop]);
  const show = (scored: Scored, atS: number, onDone: () => void) => {
    stop();
    const { drill } = scored;
    const presses = pressesOf(scored);
    if (drill.source === "drawn" && animal.current) {
      running.current = showDrawnAgain(drill, animal.current, {
        fromS: Math.max(0, atS - BEFORE_S),
        toS: atS + AFTER_S,
        speed: SPEED,
        presses,
        onClick: sound,
        onDone,
      });
      return;
    }
    const screen = screenNow();
    const piece = drill.pieces.findLast((one) => one.at_s <= atS);
    if (!screen || !piece) return onDone();
    const endS = piece.at_s + piece.to_s - piece.from_s;
    running.current = showFilmAgain(piece, screen, {
      speed: SPEED,
      pressesS: presses.filter((s) => s >= piece.at_s && s <= endS),
      onClick: sound,
      onDone,
    });
  };
  return { show, stop };
}

/** Everything that was pressed in a drill, in its order. */
function pressesOf({ score }: Scored): number[] {
  const answered = score.answers.flatMap(({ press_s }) => (press_s === null ? [] : [press_s]));
  const others = score.false_marks.map(({ press_s }) => press_s);
  return [...answered, ...others].sort((a, b) => a - b);
}
