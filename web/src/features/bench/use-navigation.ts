/** Going from mark to mark and from rep to rep, in whichever clip they lie. */

import { useCallback } from "react";

import type { StoredEvent } from "../../domain/marks";
import type { Clip, Timeline } from "../../domain/timeline";
import type { CodedSession } from "./use-coded-session";
import type { Playback } from "./use-playback";
import type { Selection } from "./use-selection";

interface NavigationParts {
  timeline: Timeline;
  clip: Clip;
  playback: Playback;
  /** Go to a time of the session, microseconds, in whichever clip it lies. */
  goToUs: (us: number) => void;
  coded: CodedSession;
  selection: Selection;
}

export function useNavigation(parts: NavigationParts) {
  const { timeline, clip, playback, goToUs } = parts;
  const { state, current, onsets } = parts.coded;
  const { letGo, setChosen, setPointing } = parts.selection;

  const goToMark = useCallback(
    (event: StoredEvent) => {
      const there = timeline.clipOf(event);
      if (there === clip) playback.goTo(timeline.frameOf(event));
      else if (there) goToUs(there.startUs + there.times.us(timeline.frameOf(event)));
    },
    [clip, goToUs, playback, timeline],
  );
  const choose = useCallback(
    (id: string) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      setChosen(id);
      setPointing({ does: "move", id });
      goToMark(event);
    },
    [goToMark, setChosen, setPointing, state.folded],
  );
  const toRep = useCallback(
    (by: number) => {
      const place = current ? onsets.indexOf(current) : -1;
      const next = onsets[Math.min(onsets.length - 1, Math.max(0, place + by))];
      if (!next) return;
      letGo();
      goToMark(next);
    },
    [current, goToMark, letGo, onsets],
  );

  return { goToMark, choose, toRep };
}
