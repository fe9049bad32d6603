/**
 * A film whose review copy is under way: decoded in the page where a piece of it is made
 * already, and by the server elsewhere.
 */

import { api } from "../api/client";
import { ServerSource, WindowSource, type FrameSource } from "./frame-source";
import type { FrameTimes } from "./frame-times";

interface Piece {
  first: number;
  count: number;
}

/** So often at most it is asked for what is new, milliseconds. */
const ASK_EVERY_MS = 2000;
/** Pieces kept open: where one is, and where one comes from. */
const MOST_OPEN = 2;

export class PieceSource implements FrameSource {
  readonly way = "server";
  private readonly server: ServerSource;
  private readonly open = new Map<number, Promise<WindowSource | null>>();
  private pieces: Piece[] = [];
  private askedAt = -Infinity;
  private closed = false;

  constructor(
    private readonly filmId: string,
    private readonly times: FrameTimes,
  ) {
    this.server = new ServerSource(filmId);
  }

  async decode(frame: number, signal: AbortSignal): Promise<ImageBitmap> {
    const source = await this.sourceOf(await this.pieceOf(frame));
    if (source) {
      try {
        return await source.decode(frame, signal);
      } catch (error) {
        if (signal.aborted) throw error;
        // The copy has become whole meanwhile, and its pieces are gone.
      }
    }
    return this.server.decode(frame, signal);
  }

  async *decodeRun(from: number, to: number, signal: AbortSignal) {
    for (let frame = from; frame <= to && !signal.aborted;) {
      const piece = await this.pieceOf(frame);
      const last = piece ? Math.min(to, piece.first + piece.count - 1) : frame;
      const source = last > frame ? await this.sourceOf(piece) : null;
      let next = frame;
      if (source) {
        try {
          for await (const got of source.decodeRun(frame, last, signal)) {
            next = got.frame + 1;
            yield got;
          }
        } catch (error) {
          if (signal.aborted) throw error;
        }
      }
      if (next === frame && !signal.aborted) {
        yield { frame, picture: await this.decode(frame, signal) };
        next = frame + 1;
      }
      frame = next;
    }
  }

  /** The piece that holds a frame; asked for anew where none is known to. */
  private async pieceOf(frame: number): Promise<Piece | null> {
    const known = this.find(frame);
    if (known || performance.now() - this.askedAt < ASK_EVERY_MS) return known;
    this.askedAt = performance.now();
    const answer = await api.GET("/api/films/{film_id}/pieces", {
      params: { path: { film_id: this.filmId } },
    });
    if (answer.data) this.pieces = answer.data;
    return this.find(frame);
  }

  private find(frame: number): Piece | null {
    return this.pieces.find((p) => frame >= p.first && frame < p.first + p.count) ?? null;
  }

  /** A piece decoded in the page; null where the page cannot. */
  private async sourceOf(piece: Piece | null): Promise<WindowSource | null> {
    if (!piece || this.closed) return null;
    const { first } = piece;
    let opening = this.open.get(first);
    if (!opening) {
      const url = `/api/films/${this.filmId}/pieces/${first}.mp4`;
      opening = WindowSource.open(url, this.times, first).catch(() => null);
      this.open.set(first, opening);
      this.letGo();
    }
    return opening;
  }

  private letGo(): void {
    for (const [first, opening] of this.open) {
      if (this.open.size <= MOST_OPEN) return;
      this.open.delete(first);
      void opening.then((source) => source?.close());
    }
  }

  close(): void {
    this.closed = true;
    for (const opening of this.open.values()) void opening.then((source) => source?.close());
    this.open.clear();
  }
}
