/** What the reviewer does at the bench: placing, moving, judging and removing marks. */

import { useCallback } from "react";

import type { StoredEvent } from "../../domain/marks";
import type { Lag } from "../../domain/reaction";
import { useCodedSession, type CodedSessionParts } from "./use-coded-session";
import type { HeldConditions } from "./use-held-conditions";
import { useNavigation } from "./use-navigation";
import { usePlacement } from "./use-placement";
import { useSelection } from "./use-selection";

interface MarkingParts extends CodedSessionParts {
  lag: Lag;
  /** Go to a time of the session, microseconds, in whichever clip it lies. */
  goToUs: (us: number) => void;
}

export function useMarking(parts: MarkingParts) {
  const { log, timeline, clip, playback, goToUs } = parts;
  const coded = useCodedSession(parts);
  const selection = useSelection();
  const placement = usePlacement({ ...parts, coded, selection });
  const navigation = useNavigation({ ...parts, coded, selection });
  const { state, current } = coded;
  const { chosen, letGo, pointing } = selection;
  const { move, place } = placement;

  /** Change what is said of a mark; undefined takes a field out. */
  const say = useCallback(
    (id: string, fields: Record<string, unknown>) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      const said = Object.entries({ ...event, ...fields }).filter(([, v]) => v !== undefined);
      log.apply([{ op: "put", event: Object.fromEntries(said) as StoredEvent }]);
    },
    [log, state.folded],
  );

  const nudge = useCallback(
    (by: number) => {
      const event = chosen === null ? undefined : state.folded.events.get(chosen);
      if (event) move(event.id, timeline.frameOf(event) + by);
    },
    [chosen, move, state.folded, timeline],
  );

  const remove = useCallback(() => {
    if (chosen === null || !state.folded.events.has(chosen)) return;
    log.apply([{ op: "drop", id: chosen }]);
    letGo();
  }, [chosen, letGo, log, state.folded]);

  /** Not judged, fits, not yet, and round again. */
  const judge = useCallback(() => {
    if (!current) return;
    const next = current.met === true ? false : current.met === false ? null : true;
    log.apply([{ op: "put", event: { ...current, met: next } }]);
  }, [current, log]);

  const point = useCallback(
    (frame: number) => {
      if (pointing.does === "place") {
        playback.goTo(frame);
        place(pointing.kind, frame);
      } else if (pointing.does === "move") move(pointing.id, frame);
      else playback.goTo(frame);
    },
    [move, place, pointing, playback],
  );

  return {
    log,
    timeline,
    clip,
    goToUs,
    ...coded,
    ...selection,
    ...placement,
    ...navigation,
    say,
    nudge,
    remove,
    judge,
    point,
  };
}

export type Marking = ReturnType<typeof useMarking>;
export type { HeldConditions };
