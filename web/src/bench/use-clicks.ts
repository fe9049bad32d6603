/** Heard clicks: suggestions from the sound, and what becomes of them. Never data by themselves. */

import { keepPreviousData, useQueries } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";

import { api, given } from "../api/client";
import { freshId, type EditBody, type StoredEvent } from "./marks";
import type { Timeline } from "./timeline";
import type { Desk } from "./use-desk";

/** A heard click is placed to within this, seconds: the detector's own error on test sound. */
const WIDTH_S = 0.001;
/** More examples than these teach nothing new. */
const MOST_EXAMPLES = 8;

export interface HeardClick {
  /** Sound time on the session, seconds. */
  soundS: number;
  /** Where that lies on the picture. */
  pictureS: number;
  score: number;
}

export interface Clicks {
  /** Whether the sound was listened to at all. */
  isHeard: boolean;
  /** Suggestions nobody has taken up yet, in time order: as many as asked for. */
  open: HeardClick[];
  /** How many are asked for, and the most there are; the usual number. */
  count: number;
  most: number;
  usual: number;
  learned: boolean;
  ask: (count: number) => void;
  accept: (click: HeardClick) => void;
  acceptAll: () => void;
  /** The next open one after an instant of the session, seconds; round again at the end. */
  nextAfter: (s: number) => HeardClick | undefined;
  /** The suggestion nearest to an instant of the picture, as heard, within a second. */
  nearest: (s: number) => HeardClick | undefined;
  /** The open one at an instant, within a few frames. */
  at: (s: number) => HeardClick | undefined;
}

const NEAR_S = 0.12;

export function useClicks(desk: Desk): Clicks {
  const { timeline, events, log } = desk;
  const [asked, setAsked] = useState<number | null>(null);
  const confirmed = useMemo(() => confirmedOf(events, timeline), [events, timeline]);
  const answers = useQueries({
    queries: timeline.clips.map((clip, n) => ({
      queryKey: ["clicks", clip.film.id, confirmed[n]],
      enabled: clip.film.sound_ready,
      placeholderData: keepPreviousData,
      staleTime: Infinity,
      queryFn: async () =>
        given(
          await api.GET("/api/films/{film_id}/clicks", {
            params: { path: { film_id: clip.film.id }, query: { confirmed: confirmed[n] ?? [] } },
          }),
        ),
    })),
  });
  const given_ = answers.flatMap((answer) => (answer.data ? [answer.data] : []));
  const mergeS = given_[0]?.merge_s ?? 0;
  const usual = given_.reduce((sum, answer) => sum + answer.usual, 0);
  const ranked = answers
    .flatMap((answer, n) => {
      const startS = (timeline.clips[n]?.startUs ?? 0) / 1e6;
      return (answer.data?.clicks ?? []).map((click) => ({
        soundS: startS + click.t_s,
        pictureS: startS + click.t_s - timeline.soundOffsetS,
        score: click.score,
      }));
    })
    .sort((a, b) => b.score - a.score);
  const count = Math.min(asked ?? usual, ranked.length);
  const marked = events.filter((e) => e.kind === "marker").map((e) => timeline.bestS(e));
  const open = ranked
    .slice(0, count)
    .filter((click) => marked.every((s) => Math.abs(s - click.pictureS) > mergeS))
    .sort((a, b) => a.soundS - b.soundS);

  const markOf = (click: HeardClick): EditBody => ({
    op: "put",
    event: {
      id: freshId(),
      kind: "marker",
      marker: "event",
      t: Math.round((click.soundS + WIDTH_S / 2) * 1e6) / 1e6,
      width: WIDTH_S,
      source: "audio",
    },
  });
  const at = useCallback(
    (s: number) =>
      open
        .filter((click) => Math.abs(click.pictureS - s) <= NEAR_S)
        .sort((a, b) => Math.abs(a.pictureS - s) - Math.abs(b.pictureS - s))[0],
    [open],
  );
  return {
    isHeard: given_.length > 0,
    open,
    count,
    most: ranked.length,
    usual,
    learned: given_.some((answer) => answer.learned),
    ask: setAsked,
    accept: (click) => log.apply([markOf(click)]),
    acceptAll: () => log.apply(open.map(markOf)),
    nextAfter: (s) => open.find((click) => click.pictureS > s + 0.001) ?? open[0],
    nearest: (s) =>
      ranked
        .slice(0, count)
        .filter((click) => Math.abs(click.soundS - s) <= 1)
        .sort((a, b) => Math.abs(a.soundS - s) - Math.abs(b.soundS - s))[0],
    at,
  };
}

/** Accepted clicks by clip, as times of its own sound: the examples to learn from. */
function confirmedOf(events: StoredEvent[], timeline: Timeline): number[][] {
  const heard = events.filter((e) => e.kind === "marker" && e["source"] === "audio");
  return timeline.clips.map(({ startUs, times }) => {
    const startS = startUs / 1e6;
    return heard
      .map((e) => (e.t ?? 0) - (e.width ?? 0) / 2 - startS)
      .filter((t) => t >= 0 && t < times.durationUs / 1e6)
      .slice(0, MOST_EXAMPLES)
      .map((t) => Math.round(t * 1e4) / 1e4);
  });
}
