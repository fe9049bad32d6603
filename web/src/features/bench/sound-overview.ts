/** The film's sound for drawing: 200 values a second, clicks standing out. */

import { useQuery } from "@tanstack/react-query";

const RATE = 200;

export class SoundOverview {
  private readonly clickDb: Int8Array;
  private readonly median: number;

  /** `bytes`: three rows of int8, low, high and click band in decibels. */
  constructor(bytes: ArrayBuffer) {
    const length = Math.floor(bytes.byteLength / 3);
    this.clickDb = new Int8Array(bytes, 2 * length, length);
    const sorted = Int8Array.from(this.clickDb).sort();
    this.median = sorted[length >> 1] ?? -100;
  }

  get seconds(): number {
    return this.clickDb.length / RATE;
  }

  /** A path of short upright hairs from x = `from`, `width` wide, taller where it clicks louder. */
  hairs(from: number, width: number): string {
    const columns = Math.max(1, Math.round(width));
    const perColumn = this.clickDb.length / columns;
    let path = "";
    for (let c = 0; c < columns; c++) {
      let loudest = -128;
      for (let i = Math.floor(c * perColumn); i < (c + 1) * perColumn; i++) {
        loudest = Math.max(loudest, this.clickDb[i] ?? -128);
      }
      const rise = loudest - this.median;
      if (rise > 12)
        path += `M${(from + c).toFixed(0)} 76v-${Math.min(9, (rise - 8) / 5).toFixed(1)}`;
    }
    return path;
  }
}

/** A film's sound overview once it has been read. */
export function useSoundOverview(filmId: string, ready: boolean) {
  return useQuery({
    queryKey: ["sound", filmId],
    enabled: ready,
    staleTime: Infinity,
    queryFn: async () => {
      const response = await fetch(`/api/films/${filmId}/sound.bin`);
      if (!response.ok) throw new Error(`no sound: ${response.status}`);
      return new SoundOverview(await response.arrayBuffer());
    },
  });
}
