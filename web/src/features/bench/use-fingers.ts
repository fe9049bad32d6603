/** Fingers on the film: two of them zoom and move it, one steps through it sideways. */

import { useEffect, useRef, type PointerEvent, type RefObject, type SyntheticEvent } from "react";

/** A finger that moves less than this has only touched, pixels. */
const STILL_PX = 8;

interface Point {
  x: number;
  y: number;
}

/** How two fingers moved: apart by a factor, and their middle from one place of the page to another. */
export interface Pinch {
  factor: number;
  from: Point;
  to: Point;
}

interface FingersParts {
  box: RefObject<HTMLElement | null>;
  /** So far a finger moves for one frame, pixels; null where it does something else. */
  stepPx: number | null;
  /** The frame from which the finger steps. */
  frame: number;
  onFrame: (frame: number) => void;
  onPinch?: (pinch: Pinch) => void;
}

/** Handlers for an element; a mouse or a pen does there what it did before. */
export function useFingers({ box, stepPx, frame, onFrame, onPinch }: FingersParts) {
  const fingers = useRef(new Map<number, Point>());
  const swipe = useRef<{ from: Point; frame: number; isOn: boolean } | null>(null);

  useEffect(() => {
    const element = box.current;
    // A browser that is not told so takes the next touch, wherever it is, for the end of the swing.
    const take = (event: TouchEvent) => {
      if (swipe.current?.isOn || fingers.current.size > 1) event.preventDefault();
    };
    element?.addEventListener("touchmove", take, { passive: false });
    return () => element?.removeEventListener("touchmove", take);
  }, [box]);

  const lift = (event: PointerEvent) => {
    fingers.current.delete(event.pointerId);
    if (swipe.current?.isOn === false) swipe.current = null;
  };
  const slide = (event: PointerEvent, { from, frame, isOn }: NonNullable<typeof swipe.current>) => {
    const moved = event.clientX - from.x;
    if (stepPx === null || (!isOn && Math.abs(moved) < STILL_PX)) return;
    if (!isOn) event.currentTarget.setPointerCapture(event.pointerId);
    swipe.current = { from, frame, isOn: true };
    // The film follows the finger: drawn to the left, what comes later appears.
    onFrame(frame - Math.trunc(moved / stepPx));
  };
  return {
    /** Whether two fingers are at it: what one of them would do is not meant. */
    isPinching: () => fingers.current.size > 1,
    handlers: {
      onPointerDown: (event: PointerEvent) => {
        if (event.pointerType !== "touch") {
          // What a finger did before is no reason to take this press for its end.
          swipe.current = null;
          return;
        }
        const at = { x: event.clientX, y: event.clientY };
        fingers.current.set(event.pointerId, at);
        swipe.current = fingers.current.size === 1 ? { from: at, frame, isOn: false } : null;
      },
      onPointerMove: (event: PointerEvent) => {
        const before = fingers.current.get(event.pointerId);
        if (!before) return;
        const now = { x: event.clientX, y: event.clientY };
        fingers.current.set(event.pointerId, now);
        const other = [...fingers.current].find(([id]) => id !== event.pointerId)?.[1];
        if (other && onPinch) {
          const apart = (one: Point) => Math.hypot(one.x - other.x, one.y - other.y);
          const middle = (one: Point) => ({ x: (one.x + other.x) / 2, y: (one.y + other.y) / 2 });
          const factor = apart(before) > 0 ? apart(now) / apart(before) : 1;
          onPinch({ factor, from: middle(before), to: middle(now) });
        } else if (!other && swipe.current) slide(event, swipe.current);
      },
      onPointerUp: lift,
      onPointerCancel: (event: PointerEvent) => {
        swipe.current = null;
        lift(event);
      },
      /** Lifting a finger that has stepped is no press of what lies under it. */
      onClickCapture: (event: SyntheticEvent) => {
        if (!swipe.current?.isOn) return;
        swipe.current = null;
        event.stopPropagation();
        event.preventDefault();
      },
    },
  };
}
