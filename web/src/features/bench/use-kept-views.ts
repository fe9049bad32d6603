/** Two views of a film one comes back to: the animal and the hand. Kept in this browser. */

import { useCallback, useState } from "react";

import { WHOLE, type View } from "../../domain/picture-view";

export const KEPT = ["animal", "hand"] as const;
export type Kept = (typeof KEPT)[number];

/** Moves are kept in heights of the stage, which is higher or lower with the strip's rows. */
type Stored = Partial<Record<Kept, View>>;

const placeOf = (filmId: string) => `frequens-views-${filmId}`;

function read(filmId: string): Stored {
  try {
    return JSON.parse(localStorage.getItem(placeOf(filmId)) ?? "{}") as Stored;
  } catch {
    return {};
  }
}

/** The kept views of a film on a stage `height` pixels high. */
export function useKeptViews(filmId: string, height: number) {
  const [stored, setStored] = useState(() => read(filmId));
  const viewOf = useCallback(
    (kept: Kept): View | null => {
      const view = stored[kept];
      return view ? { zoom: view.zoom, x: view.x * height, y: view.y * height } : null;
    },
    [stored, height],
  );
  const keep = useCallback(
    (kept: Kept, view: View) => {
      const next = { ...stored };
      // The whole picture needs no place: to keep it is to forget the other.
      if (view.zoom === WHOLE.zoom) delete next[kept];
      else next[kept] = { zoom: view.zoom, x: view.x / height, y: view.y / height };
      localStorage.setItem(placeOf(filmId), JSON.stringify(next));
      setStored(next);
    },
    [filmId, height, stored],
  );
  return { viewOf, keep };
}
