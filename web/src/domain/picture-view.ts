/** Which part of the picture one looks at: zoomed and moved on the stage, and the same in the strip. */

export const MOST_ZOOM = 8;

/** Zoom, and how far the picture is moved from the middle of the stage, pixels of the stage. */
export interface View {
  zoom: number;
  x: number;
  y: number;
}
export const WHOLE: View = { zoom: 1, x: 0, y: 0 };

/** A part of the picture in shares of it: its left upper corner and its size. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}
export const EVERYTHING: Region = { x: 0, y: 0, width: 1, height: 1 };

/** Whether two views show the same, to the eye. */
export function isSameView(one: View, other: View): boolean {
  const away = Math.hypot(one.x - other.x, one.y - other.y);
  return Math.abs(one.zoom / other.zoom - 1) < 0.01 && away < 2;
}

/** Zoomed by a factor; the place at `px`, `py` from the stage's middle stays where it is. */
export function zoomed(old: View, factor: number, px: number, py: number): View {
  const zoom = Math.min(MOST_ZOOM, Math.max(1, old.zoom * factor));
  if (zoom === 1) return WHOLE;
  const scale = zoom / old.zoom;
  return { zoom, x: px - (px - old.x) * scale, y: py - (py - old.y) * scale };
}

/**
 * What of the picture is on a stage `stageW` by `stageH`, where unzoomed it is drawn
 * `drawnW` by `drawnH` in the middle. Pixels of the stage.
 */
export function regionOf(
  view: View,
  stageW: number,
  stageH: number,
  drawnW: number,
  drawnH: number,
): Region {
  if (view.zoom === 1 || drawnW <= 0 || drawnH <= 0) return EVERYTHING;
  const [x, width] = span(view.x, view.zoom * drawnW, stageW);
  const [y, height] = span(view.y, view.zoom * drawnH, stageH);
  return { x, y, width, height };
}

/** Start and length, in shares of something `size` long moved by `moved`, of what a window shows. */
function span(moved: number, size: number, window: number): [number, number] {
  const start = Math.min(1, Math.max(0, (size / 2 - moved - window / 2) / size));
  const end = Math.min(1, Math.max(0, (size / 2 - moved + window / 2) / size));
  // Moved quite out of sight there is no region to show.
  return end - start > 0.01 ? [start, end - start] : [0, 1];
}
