"""Stretches in which nothing was asked: no-cue windows, and onsets in them all the same."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass

from .bouts import TrainingClock
from .events import Event, seconds, uncertainty_of_difference


@dataclass(frozen=True, slots=True)
class Window:
    """One no-cue window, start to end in ticks."""

    event: Event
    start: int
    end: int


@dataclass(frozen=True)
class Windows:
    """The windows of a session in time order; they never overlap."""

    all: tuple[Window, ...]

    def at(self, instant: int) -> Window | None:
        """The latest window that has begun by this instant."""
        place = bisect_right(self.all, instant, key=lambda w: w.start) - 1
        return self.all[place] if place >= 0 else None

    def holding(self, onset: Event) -> Window | None:
        """The window an onset lies in, from its start to before its end."""
        window = self.at(onset.best)
        return window if window is not None and onset.best < window.end else None

    def near(self, marker: Event) -> Window | None:
        """The window a marker falls in, to its end and what two marks leave open."""
        window = self.at(marker.best)
        if window is None:
            return None
        open_s = 2 * uncertainty_of_difference(marker, window.event)
        return window if seconds(marker.best - window.end) <= open_s else None


def windows_of(ordered: Sequence[Event], clock: TrainingClock) -> Windows:
    """The session's windows; one without length or in a break is none.

    A window ends at its own end, the next cue, the start of the next window or the end of its
    bout, whichever is first.
    """
    found: list[Window] = []
    next_cue = next_start = None
    for event in reversed(ordered):
        if event.kind == "cue":
            next_cue = event.best
        elif event.kind == "no_cue_window" and not clock.in_break(event.best):
            ends = [2 * event.end_us] if event.end_us is not None else [event.best]
            ends += [end for end in (next_cue, next_start) if end is not None]
            if clock.bouts:
                ends.append(clock.bouts[clock.bout_of(event.best)].end)
            end = min(ends)
            if end > event.best:
                found.append(Window(event, event.best, end))
                next_start = event.best
    return Windows(tuple(reversed(found)))
