/** Placing marks: on a frame, tapped while the film plays, and moved to another frame. */

import { useCallback } from "react";

import { useNotice } from "../../components/notice";
import { nextPart, openTouch, stepAt } from "../../domain/at-once";
import type { EditLog } from "../../domain/edit-log";
import {
  eventOf,
  freshId,
  KINDS,
  type EditBody,
  type MarkKind,
  type StoredEvent,
} from "../../domain/marks";
import { companions, saidOf } from "../../domain/new-marks";
import type { Lag } from "../../domain/reaction";
import { inOrderWith, seedNear } from "../../domain/seeds";
import { isOnPhoneClock, tapsOn } from "../../domain/taps-on-film";
import { round6 } from "../../domain/times";
import type { Clip, Timeline } from "../../domain/timeline";
import type { CodedSession } from "./use-coded-session";
import type { Playback } from "./use-playback";
import type { Selection } from "./use-selection";
import { t } from "../../words";

/** A tap is surer than this only in one's dreams, seconds. */
const LEAST_SD_S = 0.02;

interface PlacementParts {
  log: EditLog;
  timeline: Timeline;
  clip: Clip;
  playback: Playback;
  lag: Lag;
  coded: CodedSession;
  selection: Selection;
}

export function usePlacement(parts: PlacementParts) {
  const { log, timeline, clip, playback, lag } = parts;
  const { state, events, timeOf, plan, held, before } = parts.coded;
  const { setChosen, setPointing } = parts.selection;
  const { times } = clip;

  /** The place of a mark on this clip's frame. */
  const placeOn = useCallback(
    (on: number) => ({
      frame: on,
      pts: times.pts(on),
      ...(clip.startUs > 0 ? { clip: clip.film.id } : {}),
    }),
    [clip, times],
  );
  /** Put a mark on a frame of this clip; it is a picture's mark from then on. */
  const onFrame = useCallback(
    (event: StoredEvent, on: number): StoredEvent => {
      const moved: StoredEvent = { ...event, ...placeOn(on) };
      delete moved.t;
      delete moved.width;
      delete moved["source"];
      delete moved.clock;
      return moved;
    },
    [placeOn],
  );

  /** The edits that give a mark its frame; a tap of the yard takes along what belongs before it. */
  const settledOn = useCallback(
    (event: StoredEvent, on: number, isShared = false): EditBody[] => {
      const settled = onFrame(event, on);
      const placed = (state: StoredEvent, isAfter: boolean) =>
        onFrame(state, isAfter ? times.clamp(on + 1) : on);
      const along = isOnPhoneClock(event)
        ? inOrderWith(event, timeline.bestS(settled), events, timeline, placed, isShared)
        : [];
      return [{ op: "put", event: settled }, ...along];
    },
    [events, onFrame, timeline, times],
  );
  const tell = useNotice();

  /** The tap of the yard that a mark placed here is of. */
  const seedAt = useCallback(
    (kind: string, at: number) => seedNear(kind, at, events, timeline, tapsOn(state.folded.facts)),
    [events, state.folded, timeline],
  );

  /** What a part placed here says: the chain's next one. Null, and why, where there is none. */
  const partAt = useCallback(
    (s: number): { part: string } | null => {
      const seen = before(s);
      const onset = seen.findLastIndex((e) => e.kind === "onset");
      const began = seen[onset];
      const key = began && (began.approximation ?? stepAt(seen, timeOf, timeOf(began)));
      const step = plan.approximations?.find((one) => one.key === key);
      const next = began ? nextPart(step, seen.slice(onset + 1)) : null;
      if (next !== null) return { part: next };
      tell(
        !began
          ? t("bench:use_placement.a_part_stands_inside_a")
          : (step?.parts ?? []).length < 2
            ? t("bench:use_placement.this_step_has_no_parts")
            : t("bench:use_placement.all_parts_of_this_chain"),
      );
      return null;
    },
    [before, plan, tell, timeOf],
  );

  /** Put a mark on a frame, or give the one that stands there other fields. */
  const put = useCallback(
    (kind: MarkKind, on: number, fields: Record<string, unknown> = {}) => {
      const startS = clip.startUs / 1e6;
      const ended = kind === "offset" ? openTouch(before(startS + times.bestS(on))) : null;
      if (ended) {
        const endS = round6(startS + times.us(on) / 1e6);
        log.apply([{ op: "put", event: { ...ended, end_s: endS } }]);
        setChosen(ended.id);
        setPointing({ does: "go" });
        return;
      }
      const inChain = kind === "part" ? partAt(startS + times.bestS(on)) : {};
      if (inChain === null) return;
      const made = eventOf(kind, before(startS + times.bestS(on)));
      const there = events.find(
        (e) =>
          e.kind === made.kind &&
          e.frame === on &&
          timeline.clipOf(e) === clip &&
          (made.fields["marker"] === undefined || e.marker === made.fields["marker"]),
      );
      const seed = there ? undefined : seedAt(made.kind, startS + times.bestS(on));
      if (seed) {
        log.apply(settledOn({ ...seed, ...fields }, on));
        setChosen(seed.id);
        setPointing({ does: "go" });
        return;
      }
      const first = there ? {} : { ...held.fieldsOf(made.kind), ...inChain };
      const mark: StoredEvent = {
        ...(there ?? { id: freshId(), kind: made.kind, ...placeOn(on), ...made.fields }),
        ...first,
        ...fields,
      };
      const bodies = there
        ? Object.entries(fields).some(([key, value]) => there[key] !== value)
          ? [{ op: "put" as const, event: mark }]
          : []
        : companions(mark, events, timeline);
      if (bodies.length > 0) log.apply(bodies);
      setChosen(mark.id);
      setPointing({ does: "go" });
    },
    [
      before,
      clip,
      events,
      log,
      partAt,
      placeOn,
      held,
      seedAt,
      settledOn,
      timeline,
      times,
      setChosen,
      setPointing,
    ],
  );

  /** A mark tapped while the film plays: the own lag is taken off, its spread is its width. */
  const tap = useCallback(
    (kind: MarkKind, fields: Record<string, unknown> = {}) => {
      // The hand lags in its own time: in the film's it is more or less by the playing speed.
      const width = Math.max(LEAST_SD_S, lag.sdS * playback.speed) * Math.sqrt(12);
      const at = Math.max(0, clip.startUs / 1e6 + playback.now() - lag.lagS * playback.speed);
      const ended = kind === "offset" ? openTouch(before(at)) : null;
      if (ended) {
        log.apply([{ op: "put", event: { ...ended, end_s: round6(at) } }]);
        return;
      }
      const inChain = kind === "part" ? partAt(at) : {};
      if (inChain === null) return;
      const made = eventOf(kind, before(at));
      const end = timeline.durationUs / 1e6;
      const here = (event: StoredEvent): StoredEvent => {
        const where = { t: round6(Math.min(end, at + width / 2)), width: round6(width) };
        const placed: StoredEvent = { ...event, ...where, source: "tap" };
        delete placed.clock;
        return placed;
      };
      const seed = seedAt(made.kind, at);
      if (seed) {
        const mark = here({ ...seed, ...fields });
        log.apply([{ op: "put", event: mark }, ...inOrderWith(seed, at, events, timeline, here)]);
        return;
      }
      const mark = here({
        id: freshId(),
        kind: made.kind,
        ...made.fields,
        ...held.fieldsOf(made.kind),
        ...inChain,
        ...saidOf(kind, events),
        ...fields,
      });
      log.apply(companions(mark, events, timeline));
    },
    [before, clip.startUs, events, lag, log, partAt, playback, held, seedAt, timeline],
  );

  const place = useCallback(
    (kind: MarkKind, at?: number) => {
      if (playback.playing) {
        tap(kind);
        return;
      }
      const asks = KINDS.find((k) => k.kind === kind)?.asks;
      const begin = (on: number) => {
        if (asks) {
          setChosen(null);
          setPointing({ does: "name", kind, frame: on });
        } else put(kind, on);
      };
      if (at === undefined) playback.whenShown(begin);
      else begin(at);
    },
    [put, playback, tap, setChosen, setPointing],
  );

  /** From the frame on the stage on, this step is in force. */
  const startStep = useCallback(
    (key: string) => {
      const fields = { approximation: key };
      if (playback.playing) tap("criterion" as MarkKind, fields);
      else playback.whenShown((on) => put("criterion" as MarkKind, on, fields));
    },
    [put, playback, tap],
  );
  const move = useCallback(
    (id: string, to: number) => {
      const event = state.folded.events.get(id);
      if (!event) return;
      const frame = times.clamp(to);
      log.apply(settledOn(event, frame));
      playback.goTo(frame);
    },
    [log, playback, settledOn, state.folded, times],
  );
  return { put, place, startStep, onFrame, settledOn, move };
}
