/** Plays a drill on the drawn animal, frame by frame of the display. */

import {
  AT_EASE,
  DrillRecord,
  poseAt,
  type Drill,
  type Measured,
  type PressedBy,
} from "../../domain/drill";
import type { Animal } from "./drawn-animal";

/** The marker's ring is seen for so long, milliseconds. */
const RING_MS = 180;

export interface Player {
  press: (atMs: number, by: PressedBy) => void;
  /** Seconds of the drill at a moment of the page's clock; null where it did not run then. */
  timeOf: (ms: number) => number | null;
  stop: () => void;
}

interface Told {
  /** So far it is, 0 to 1; in the frame it is drawn in. */
  onShare: (share: number) => void;
  onDone: (measured: Measured) => void;
}

/** Starts a drill. Nothing of it is timed but by the display's frames and the presses' own times. */
export function playDrawn(drill: Drill, animal: Animal, { onShare, onDone }: Told): Player {
  const record = new DrillRecord(drill.windows);
  let startMs: number | null = null;
  let ringMs: number | null = null;
  let frame = requestAnimationFrame(draw);
  function draw(nowMs: number) {
    startMs ??= nowMs;
    const atS = (nowMs - startMs) / 1000;
    animal.pose(poseAt(drill.acts, atS));
    record.frame(atS);
    onShare(Math.min(1, atS / drill.seconds));
    if (ringMs !== null && nowMs - ringMs > RING_MS) {
      animal.ring(false);
      ringMs = null;
    }
    if (atS < drill.seconds) frame = requestAnimationFrame(draw);
    else {
      animal.ring(false);
      onShare(0);
      onDone(record.measured());
    }
  }
  const timeOf = (ms: number) => (startMs === null ? null : (ms - startMs) / 1000);
  return {
    timeOf,
    press: (atMs, by) => {
      const atS = timeOf(atMs);
      if (atS === null) return;
      record.press(atS, by);
      ringMs = atMs;
      animal.ring(true);
    },
    stop: () => {
      cancelAnimationFrame(frame);
      animal.pose(AT_EASE);
      animal.ring(false);
      onShare(0);
    },
  };
}

interface Again {
  fromS: number;
  toS: number;
  /** So many seconds of the drill in one. */
  speed: number;
  presses: readonly number[];
  onClick: () => void;
  onDone: () => void;
}

/** Shows a part of a drill again, with the marks where they fell. Returns how to stop it. */
export function showDrawnAgain(drill: Drill, animal: Animal, again: Again): () => void {
  const left = again.presses.filter((s) => s >= again.fromS && s <= again.toS);
  let startMs: number | null = null;
  let ringMs: number | null = null;
  let frame = requestAnimationFrame(draw);
  function draw(nowMs: number) {
    startMs ??= nowMs;
    const atS = again.fromS + ((nowMs - startMs) / 1000) * again.speed;
    animal.pose(poseAt(drill.acts, atS));
    while (left[0] !== undefined && left[0] <= atS) {
      left.shift();
      again.onClick();
      animal.ring(true);
      ringMs = nowMs;
    }
    if (ringMs !== null && nowMs - ringMs > RING_MS / again.speed) animal.ring(false);
    if (atS < again.toS) frame = requestAnimationFrame(draw);
    else {
      animal.ring(false);
      again.onDone();
    }
  }
  return () => {
    cancelAnimationFrame(frame);
    animal.ring(false);
  };
}
