/** Marker words: places that sound like the few already marked. To look at; never data. */

import { keepPreviousData, useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { api, given } from "../../api/client";
import type { StoredEvent } from "../../domain/marks";
import {
  nearestTo,
  nextAfter,
  NONE,
  onSession,
  refusedWith,
  stillOpen,
  type Suggestion,
} from "../../domain/suggestions";
import type { Timeline } from "../../domain/timeline";
import type { Marking } from "./use-marking";

/** From the first few marks it learns; more would only make every answer slower. */
const MOST_EXAMPLES = 5;
/** A mark no less certain than this was placed on a frame, not tapped while the film played. */
const EXACT_S = 0.02;
/** A place this near is the one meant, seconds. */
const NEAR_S = 0.2;

export interface Places {
  /** How many marks it learns from; nothing is looked for before the second. */
  examples: number;
  isLooking: boolean;
  isFault: boolean;
  /** Whether a voice was heard at any of them. */
  learned: boolean;
  /** Places nobody has marked or refused yet, in time order: as many as asked for. */
  open: Suggestion[];
  count: number;
  most: number;
  ask: (count: number) => void;
  /** Not the word; what sounds more like it than like the word falls behind. */
  refuse: (place: Suggestion) => void;
  /** The next after an instant of the session, seconds; round again at the end. */
  nextAfter: (s: number) => Suggestion | undefined;
  /** The one at an instant. */
  at: (s: number) => Suggestion | undefined;
}

export const FEWEST_EXAMPLES = 2;

export function usePlaces(marking: Marking, isOn: boolean): Places {
  const { timeline, events, log, state } = marking;
  // More or fewer than usual: what is usual changes with every mark.
  const [more, setMore] = useState(0);
  const marked = useMemo(() => examplesOf(events, timeline), [events, timeline]);
  // Each clip is learned for by itself.
  const examples = Math.max(0, ...marked.map((own) => own.length));
  const refused = (state.folded.facts["refused_words"] as number[] | null | undefined) ?? NONE;
  const refusedHere = useMemo(() => timeline.byClip(refused), [refused, timeline]);
  const answers = useQueries({
    queries: timeline.clips.map((clip, n) => ({
      queryKey: ["words", clip.film.id, marked[n], refusedHere[n]],
      enabled: isOn && clip.film.sound_ready && (marked[n]?.length ?? 0) >= FEWEST_EXAMPLES,
      placeholderData: keepPreviousData,
      staleTime: Infinity,
      queryFn: async () =>
        given(
          await api.GET("/api/films/{film_id}/words", {
            params: {
              path: { film_id: clip.film.id },
              query: { marked: marked[n] ?? [], refused: refusedHere[n] ?? [] },
            },
          }),
        ),
    })),
  });
  const found = answers.flatMap((answer) => (answer.data ? [answer.data] : []));
  const apartS = found[0]?.apart_s ?? 0;
  const ranked = onSession(
    answers.map((answer) => answer.data?.places),
    timeline,
  );
  const usual = found.reduce((sum, answer) => sum + answer.usual, 0);
  const count = Math.min(Math.max(0, usual + more), ranked.length);
  const markers = events.filter((e) => e.kind === "marker").map((e) => timeline.bestS(e));
  const open = stillOpen(ranked.slice(0, count), markers, apartS, refused);
  return {
    examples,
    isLooking: isOn && answers.some((answer) => answer.isFetching),
    isFault: answers.some((answer) => answer.isError),
    learned: found.some((answer) => answer.learned),
    open,
    count,
    most: ranked.length,
    ask: (wanted) => setMore(wanted - usual),
    refuse: (place) => {
      log.apply([{ op: "facts", set: { refused_words: refusedWith(refused, place) } }]);
    },
    nextAfter: (s) => nextAfter(open, s),
    at: (s) => nearestTo(open, s, NEAR_S),
  };
}

/** The first markers placed on a frame, as times of their clip's own sound. */
function examplesOf(events: StoredEvent[], timeline: Timeline): number[][] {
  const instants = events
    .filter(
      (e) => e.kind === "marker" && e.marker === "event" && timeline.uncertaintyS(e) <= EXACT_S,
    )
    .map((e) => timeline.bestS(e) + timeline.soundOffsetS);
  return timeline.byClip(instants).map((own) => own.slice(0, MOST_EXAMPLES));
}
