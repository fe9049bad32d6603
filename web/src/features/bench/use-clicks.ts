/** Heard clicks: suggestions from the sound, and what becomes of them. Never data by themselves. */

import { keepPreviousData, useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { api, given } from "../../api/client";
import { freshId, type EditBody, type StoredEvent } from "../../domain/marks";
import {
  AT_S,
  nearestTo,
  nextAfter,
  NONE,
  onSession,
  refusedWith,
  stillOpen,
  type Suggestion,
} from "../../domain/suggestions";
import { round6 } from "../../domain/times";
import type { Timeline } from "../../domain/timeline";
import type { Marking } from "./use-marking";

/** More examples than these teach nothing new. */
const MOST_EXAMPLES = 8;

export interface HeardClick extends Suggestion {
  /** A mark at it is so wide, seconds. */
  widthS: number;
}

export interface Clicks {
  /** Whether the sound was listened to at all. */
  isHeard: boolean;
  /** Suggestions nobody has taken up yet, in time order: as many as asked for. */
  open: HeardClick[];
  /** All that may have been one, the likeliest first. */
  ranked: HeardClick[];
  /** How many are asked for, and the most there are; the usual number. */
  count: number;
  most: number;
  usual: number;
  learned: boolean;
  ask: (count: number) => void;
  accept: (click: HeardClick) => void;
  acceptAll: () => void;
  /** This was no click; what sounds like it falls behind. */
  refuse: (click: HeardClick) => void;
  /** The taken click that none of the others sounds like, and how to take it back. */
  alone: { pictureS: number; takeBack: () => void } | null;
  /** The next open one after an instant of the session, seconds; round again at the end. */
  nextAfter: (s: number) => HeardClick | undefined;
  /** The suggestion nearest to an instant of the picture, as heard, within a second. */
  nearest: (s: number) => HeardClick | undefined;
  /** The open one at an instant, within a few frames. */
  at: (s: number) => HeardClick | undefined;
}

const NEAR_S = 0.12;

export function useClicks(marking: Marking): Clicks {
  const { timeline, events, log, state } = marking;
  const [asked, setAsked] = useState<number | null>(null);
  const confirmed = useMemo(() => confirmedOf(events, timeline), [events, timeline]);
  const refused = (state.folded.facts["refused_clicks"] as number[] | null | undefined) ?? NONE;
  const refusedHere = useMemo(() => lastFew(timeline.byClip(refused)), [refused, timeline]);
  const answers = useQueries({
    queries: timeline.clips.map((clip, n) => ({
      queryKey: ["clicks", clip.film.id, confirmed[n], refusedHere[n]],
      enabled: clip.film.sound_ready,
      placeholderData: keepPreviousData,
      staleTime: Infinity,
      queryFn: async () =>
        given(
          await api.GET("/api/films/{film_id}/clicks", {
            params: {
              path: { film_id: clip.film.id },
              query: { confirmed: confirmed[n] ?? [], refused: refusedHere[n] ?? [] },
            },
          }),
        ),
    })),
  });
  const given_ = answers.flatMap((answer) => (answer.data ? [answer.data] : []));
  const mergeS = given_[0]?.merge_s ?? 0;
  const usual = given_.reduce((sum, answer) => sum + answer.usual, 0);
  const ranked = onSession(
    answers.map((answer) => answer.data?.clicks),
    timeline,
  ).map((one) => ({ ...one, widthS: answers[one.clip]?.data?.width_s ?? 0 }));
  const count = Math.min(asked ?? usual, ranked.length);
  const marked = events.filter((e) => e.kind === "marker").map((e) => timeline.bestS(e));
  const open = stillOpen(ranked.slice(0, count), marked, mergeS, refused);

  const markOf = (click: HeardClick): EditBody => ({
    op: "put",
    event: {
      id: freshId(),
      kind: "marker",
      marker: "event",
      t: round6(click.soundS + click.widthS / 2),
      width: click.widthS,
      source: "audio",
    },
  });
  return {
    isHeard: given_.length > 0,
    open,
    ranked,
    count,
    most: ranked.length,
    usual,
    learned: given_.some((answer) => answer.learned),
    ask: setAsked,
    accept: (click) => log.apply([markOf(click)]),
    acceptAll: () => log.apply(open.map(markOf)),
    refuse: (click) => {
      log.apply([{ op: "facts", set: { refused_clicks: refusedWith(refused, click) } }]);
    },
    alone: aloneOf(answers, events, timeline, (id) => log.apply([{ op: "drop", id }])),
    nextAfter: (s) => nextAfter(open, s),
    nearest: (s) =>
      ranked
        .slice(0, count)
        .filter((click) => Math.abs(click.soundS - s) <= 1)
        .sort((a, b) => Math.abs(a.soundS - s) - Math.abs(b.soundS - s))[0],
    at: (s) => nearestTo(open, s, NEAR_S),
  };
}

/** When a heard mark was heard, in the sound of the session. */
function heardAt(event: StoredEvent): number {
  return (event.t ?? 0) - (event.width ?? 0) / 2;
}

function heardOf(events: StoredEvent[]): StoredEvent[] {
  return events.filter((e) => e.kind === "marker" && e["source"] === "audio");
}

/** Accepted clicks by clip, as times of its own sound: the examples to learn from. */
function confirmedOf(events: StoredEvent[], timeline: Timeline): number[][] {
  return lastFew(timeline.byClip(heardOf(events).map(heardAt)));
}

function lastFew(instants: number[][]): number[][] {
  return instants.map((own) => own.slice(-MOST_EXAMPLES));
}

/** The last taken click that nothing else sounds like. */
function aloneOf(
  answers: { data?: { alone_s: number[] } | undefined }[],
  events: StoredEvent[],
  timeline: Timeline,
  drop: (id: string) => void,
): Clicks["alone"] {
  const alone = answers.flatMap((answer, n) =>
    (answer.data?.alone_s ?? []).map((t) => t + (timeline.clips[n]?.startUs ?? 0) / 1e6),
  );
  const mark = heardOf(events).findLast((e) => alone.some((t) => Math.abs(t - heardAt(e)) <= AT_S));
  return mark ? { pictureS: timeline.bestS(mark), takeBack: () => drop(mark.id) } : null;
}
