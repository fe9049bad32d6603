/** A session's clips one after another: where marks lie on the session's own time. */

import type { FilmOut } from "../api/client";
import type { FrameTimes } from "./frame-times";
import type { StoredEvent } from "./marks";
import { isOnPhoneClock, layTaps, type Laid, type TapsOn } from "./taps-on-film";

/** Between two clips the camera was off; it is written as one second, as the server does. */
const GAP_US = 1_000_000;

export interface Clip {
  film: FilmOut;
  times: FrameTimes;
  /** Where it begins on the session's time, microseconds. */
  startUs: number;
}

/** Looks up marks on their clips. Times are of the session, seconds, unless the name says otherwise. */
export class Timeline {
  readonly clips: Clip[];
  /** Where taps of the yard lie, by their ids. */
  private readonly laid: ReadonlyMap<string, Laid>;

  constructor(
    films: FilmOut[],
    timesOf: Map<string, FrameTimes>,
    /** Sound minus picture, seconds: taken off what was heard. */
    readonly soundOffsetS: number,
    /** Of a session that was led by phone: its marks on that clock, and where films begin on it. */
    taps: StoredEvent[] = [],
    on: TapsOn | null = null,
  ) {
    let startUs = 0;
    this.clips = films.flatMap((film) => {
      const times = timesOf.get(film.id);
      if (!times) return [];
      const clip = { film, times, startUs };
      startUs += times.durationUs + GAP_US;
      return [clip];
    });
    const stretches = this.clips.flatMap(({ film, times, startUs }) => {
      const begins = on?.clips[film.id];
      if (begins === undefined) return [];
      const tapped_from_s = begins - (on?.moved_s ?? 0);
      return [{ start_s: startUs / 1e6, tapped_from_s, length_s: times.durationUs / 1e6 }];
    });
    stretches.sort((a, b) => a.tapped_from_s - b.tapped_from_s);
    this.laid = layTaps(taps, stretches);
  }

  /** Whether a mark lies on the films: a tap of the yard may have come while no camera ran. */
  shows(event: StoredEvent): boolean {
    return !isOnPhoneClock(event) || this.laid.has(event.id);
  }

  private tapOf(event: StoredEvent): Laid | undefined {
    return isOnPhoneClock(event) ? this.laid.get(event.id) : undefined;
  }

  get durationUs(): number {
    const last = this.clips.at(-1);
    return last ? last.startUs + last.times.durationUs : 0;
  }

  /** The clip a mark stands on; one that names none stands on the first, a time where it falls. */
  clipOf(event: StoredEvent): Clip | undefined {
    if (event.frame === undefined) return this.at(this.us(event)).clip;
    return this.clips.find((c) => c.film.id === event.clip) ?? this.clips[0];
  }

  /** A mark's own time, microseconds: that of its frame, or of the sound on the picture. */
  us(event: StoredEvent): number {
    if (event.frame === undefined) {
      const heard = event["source"] === "audio" ? this.soundOffsetS : 0;
      return Math.round(((this.tapOf(event)?.t_s ?? event.t ?? 0) - heard) * 1e6);
    }
    const clip = this.clipOf(event);
    return clip ? clip.startUs + clip.times.us(event.frame) : 0;
  }

  /** Best estimate of a mark's instant. */
  bestS(event: StoredEvent): number {
    if (event.frame === undefined) return this.us(event) / 1e6 - this.widthS(event) / 2;
    const clip = this.clipOf(event);
    return clip ? clip.startUs / 1e6 + clip.times.bestS(event.frame) : 0;
  }

  /** The frame of its clip that shows a mark first. */
  frameOf(event: StoredEvent): number {
    if (event.frame !== undefined) return event.frame;
    const clip = this.clipOf(event);
    return clip ? clip.times.atUs(Math.round(this.bestS(event) * 1e6) - clip.startUs) : 0;
  }

  /** Clip and frame at a time of the session, microseconds. */
  at(us: number): { clip: Clip | undefined; frame: number } {
    const clip = this.clips.findLast((c) => c.startUs <= us) ?? this.clips[0];
    return { clip, frame: clip ? clip.times.atUs(us - clip.startUs) : 0 };
  }

  /** Sound times of the session, seconds, by clip: as times of its own sound. */
  byClip(instants: number[]): number[][] {
    return this.clips.map(({ startUs, times }) =>
      instants
        .map((t) => t - startUs / 1e6)
        .filter((t) => t >= 0 && t < times.durationUs / 1e6)
        .map((t) => Math.round(t * 1e4) / 1e4),
    );
  }

  private widthS(event: StoredEvent): number {
    return this.tapOf(event)?.width_s ?? event.width ?? 0;
  }

  /** A mark's standard uncertainty, seconds. */
  uncertaintyS(event: StoredEvent): number {
    if (event.frame === undefined) return this.widthS(event) / Math.sqrt(12);
    return this.clipOf(event)?.times.uncertaintyS(event.frame) ?? 0;
  }
}
