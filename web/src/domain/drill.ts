/** A timing drill on the page: where the drawn animal is, and what was shown and pressed when. */

import type { components } from "../api/schema";

export type Drills = components["schemas"]["DrillsOut"];
export type Drill = components["schemas"]["DrillOut"];
export type DrillRow = components["schemas"]["DrillRow"];
export type Scored = components["schemas"]["ScoredOut"];
export type LevelKey = Drills["levels"][number]["key"];
export type Instant = Drill["instant"];
export type PressedBy = DrillRow["by"];
export type Act = Drill["acts"][number];
export type DrillWindow = Drill["windows"][number];
type Moved = Act["moved"];

/** How far each part has come, 0 at rest and 1 there; a fake comes no further than `FAKE`. */
export type Pose = Record<Moved, number>;

export const AT_EASE: Pose = { look: 0, touch: 0, lift: 0 };
/** So far goes what only seems to go there: near, and one can see that it is not. */
const FAKE = 0.8;

/** Where the animal is at a moment of the drill, seconds. */
export function poseAt(acts: readonly Act[], atS: number): Pose {
  const pose = { ...AT_EASE };
  for (const act of acts) {
    if (atS <= act.approach_s || atS >= act.rests_s) continue;
    pose[act.moved] = Math.max(pose[act.moved], reached(act, atS) * (act.whole ? 1 : FAKE));
  }
  return pose;
}

function reached(act: Act, atS: number): number {
  if (atS < act.begins_s) {
    // Never quite there before it is: what it touches, it touches in the frame it is due in.
    return Math.min(0.97, (atS - act.approach_s) / (act.begins_s - act.approach_s));
  }
  if (atS < act.ends_s) return 1;
  return Math.min(0.97, (act.rests_s - atS) / (act.rests_s - act.ends_s));
}

/** What a drill has to tell the server, seconds of its own time. */
export interface Measured {
  presses: number[];
  /**
   * By a window's place: when its instant was first drawn, and how long after the last picture.
   * Where it is counted from another: so long after that was drawn, and the longer of the two.
   */
  shown: Record<string, [number, number]>;
  frame_s: number;
  picture_s: number;
  by: PressedBy;
}

/** The middle one; 0 of none. */
export function middle(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0;
}

/** Two instants no further apart are one: sums of seconds are not exact. */
const SAME_S = 1e-6;

/** Keeps what was shown in which of the display's frames, and what was pressed when. */
export class DrillRecord {
  private readonly open: { place: number; atS: number; isDue: boolean }[];
  /** By place: how much later than it was there the beginning was seen, and the gap before. */
  private readonly since = new Map<number, { lateS: number; gap: number }>();
  private readonly shown: Record<string, [number, number]> = {};
  private readonly presses: number[] = [];
  private readonly gaps: number[] = [];
  private readonly byCounts = new Map<PressedBy, number>();
  private last: number | null = null;

  constructor(windows: readonly DrillWindow[]) {
    this.open = windows
      .flatMap(({ since_s, due_s }, place) => [
        { place, atS: since_s ?? null, isDue: false },
        { place, atS: due_s, isDue: true },
      ])
      .flatMap(({ atS, ...one }) => (atS === null ? [] : [{ ...one, atS }]))
      .sort((a, b) => a.atS - b.atS);
  }

  /** A frame was drawn as of `atS`; what is due by then is first seen in it, at `seenS`. */
  frame(atS: number, seenS = atS) {
    const gap = this.last === null ? 0 : seenS - this.last;
    if (this.last !== null) this.gaps.push(gap);
    this.last = seenS;
    for (let next = this.open[0]; next && next.atS <= atS + SAME_S; next = this.open[0]) {
      const { place, isDue } = next;
      const since = this.since.get(place);
      if (!isDue) this.since.set(place, { lateS: seenS - next.atS, gap });
      // Nothing is seen at the instant itself: it is as late as what it is counted from.
      else if (since) this.shown[place] = [next.atS + since.lateS, Math.max(gap, since.gap)];
      else this.shown[place] = [seenS, gap];
      this.open.shift();
    }
  }

  /** The picture stood still on purpose: the next frame follows on none. */
  rest() {
    this.last = null;
  }

  press(atS: number, by: PressedBy) {
    this.presses.push(atS);
    this.byCounts.set(by, (this.byCounts.get(by) ?? 0) + 1);
  }

  /** All of it. `frameS`: the display's frame, where pictures come more rarely than those. */
  measured(frameS?: number): Measured {
    const pictureS = middle(this.gaps) || 1 / 60;
    const by = [...this.byCounts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? "key";
    return {
      presses: this.presses,
      shown: this.shown,
      frame_s: frameS ?? pictureS,
      picture_s: pictureS,
      by,
    };
  }
}

/** Keys that press nothing. */
const SILENT = new Set(["Tab", "Shift", "Control", "Alt", "Meta", "CapsLock", "Escape"]);

export function isPress(event: KeyboardEvent): boolean {
  return !event.repeat && !SILENT.has(event.key);
}

export function byPointer(event: PointerEvent): PressedBy {
  return event.pointerType === "touch" ? "touch" : "pointer";
}
