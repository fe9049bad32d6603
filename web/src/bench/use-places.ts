/** Marker words: places that sound like the few already marked. To look at; never data. */

import { keepPreviousData, useQueries } from "@tanstack/react-query";
import { useMemo, useState } from "react";

import { api, given } from "../api/client";
import type { StoredEvent } from "./marks";
import type { Timeline } from "./timeline";
import { AT_S, MOST_REFUSED, NONE } from "./use-clicks";
import type { Desk } from "./use-desk";

/** From the first few marks it learns; more would only make every answer slower. */
const MOST_EXAMPLES = 5;
/** A mark no less certain than this was placed on a frame, not tapped while the film played. */
const EXACT_S = 0.02;
/** A place this near is the one meant, seconds. */
const NEAR_S = 0.2;

export interface Place {
  /** Sound time on the session, seconds. */
  soundS: number;
  /** Where that lies on the picture. */
  pictureS: number;
  score: number;
}

export interface Places {
  /** How many marks it learns from; nothing is looked for before the second. */
  examples: number;
  isLooking: boolean;
  /** Whether a voice was heard at any of them. */
  learned: boolean;
  /** Places nobody has marked or refused yet, in time order: as many as asked for. */
  open: Place[];
  count: number;
  most: number;
  ask: (count: number) => void;
  /** Not the word; what sounds more like it than like the word falls behind. */
  refuse: (place: Place) => void;
  /** The next after an instant of the session, seconds; round again at the end. */
  nextAfter: (s: number) => Place | undefined;
  /** The one at an instant. */
  at: (s: number) => Place | undefined;
}

export const FEWEST_EXAMPLES = 2;

export function usePlaces(desk: Desk, isOn: boolean): Places {
  const { timeline, events, log, state } = desk;
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
  const ranked = answers
    .flatMap((answer, n) => {
      const startS = (timeline.clips[n]?.startUs ?? 0) / 1e6;
      return (answer.data?.places ?? []).map((place) => ({
        soundS: startS + place.t_s,
        pictureS: startS + place.t_s - timeline.soundOffsetS,
        score: place.score,
      }));
    })
    .sort((a, b) => b.score - a.score);
  const usual = found.reduce((sum, answer) => sum + answer.usual, 0);
  const count = Math.min(Math.max(0, usual + more), ranked.length);
  const markers = events.filter((e) => e.kind === "marker").map((e) => timeline.bestS(e));
  const open = ranked
    .slice(0, count)
    .filter((place) => markers.every((s) => Math.abs(s - place.pictureS) > apartS))
    .filter((place) => refused.every((s) => Math.abs(s - place.soundS) > AT_S))
    .sort((a, b) => a.soundS - b.soundS);
  return {
    examples,
    isLooking: isOn && answers.some((answer) => answer.isFetching),
    learned: found.some((answer) => answer.learned),
    open,
    count,
    most: ranked.length,
    ask: (wanted) => setMore(wanted - usual),
    refuse: (place) => {
      const said = [...refused, Math.round(place.soundS * 1e4) / 1e4];
      log.apply([{ op: "facts", set: { refused_words: said.slice(-MOST_REFUSED) } }]);
    },
    nextAfter: (s) => open.find((place) => place.pictureS > s + 0.001) ?? open[0],
    at: (s) =>
      open
        .filter((place) => Math.abs(place.pictureS - s) <= NEAR_S)
        .sort((a, b) => Math.abs(a.pictureS - s) - Math.abs(b.pictureS - s))[0],
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
