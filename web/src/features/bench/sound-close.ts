/** The film's sound as one looks at it closely: half a millisecond a value, fetched by the second. */

import { useQueries } from "@tanstack/react-query";
import { useMemo } from "react";

/** Values a second. */
export const CLOSE_RATE = 2000;
const BYTES = 3;
/** What is fetched at once, seconds. */
const PIECE_S = 4;

/** One value: lowest and highest of the wave (±127) and the click band's level, decibels. */
export interface CloseSound {
  low: number;
  high: number;
  clickDb: number;
}

export type SoundAt = (s: number) => CloseSound | undefined;

/** The sound around a stretch of one film, seconds of its own sound. */
export function useCloseSound(filmId: string, ready: boolean, fromS: number, toS: number): SoundAt {
  const first = Math.max(0, Math.floor(fromS / PIECE_S));
  const last = Math.max(first, Math.floor(toS / PIECE_S));
  const places = Array.from({ length: last - first + 1 }, (_, n) => first + n);
  const pieces = useQueries({
    queries: places.map((place) => ({
      queryKey: ["close-sound", filmId, place],
      enabled: ready,
      staleTime: Infinity,
      queryFn: () => fetchPiece(filmId, place),
    })),
    combine: (answers) => answers.map((answer) => answer.data),
  });
  return useMemo(
    () => (s: number) => {
      const value = Math.floor(s * CLOSE_RATE) - first * PIECE_S * CLOSE_RATE;
      const each = PIECE_S * CLOSE_RATE;
      const piece = pieces[Math.floor(value / each)];
      const at = (value % each) * BYTES;
      if (value < 0 || !piece || at + 2 >= piece.length) return undefined;
      return { low: piece[at] ?? 0, high: piece[at + 1] ?? 0, clickDb: piece[at + 2] ?? -100 };
    },
    [pieces, first],
  );
}

async function fetchPiece(filmId: string, place: number): Promise<Int8Array> {
  const start = place * PIECE_S * CLOSE_RATE * BYTES;
  const end = start + PIECE_S * CLOSE_RATE * BYTES - 1;
  const response = await fetch(`/api/films/${filmId}/fine.bin`, {
    headers: { Range: `bytes=${start}-${end}` },
  });
  // Behind the film's end there is nothing.
  if (response.status === 416) return new Int8Array();
  if (!response.ok) throw new Error(`no sound: ${response.status}`);
  return new Int8Array(await response.arrayBuffer());
}
