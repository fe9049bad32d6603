"""What happened before each attempt: the cues and prompts that led up to it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..model.events import Event
from ..model.reps import Attempt, Reps
from .markers import own_marker


@dataclass(frozen=True, slots=True)
class Run:
    """The cues and prompts before an attempt's onset that belong to it."""

    attempt: Attempt
    cues: tuple[Event, ...]
    prompts: tuple[Event, ...]


def run_ups(reps: Reps) -> Iterator[Run]:
    """Each attempt with what led up to it, in time order.

    That is what came since the later of the onset before and the latest event marker that is not
    the attempt's own: a hand may mark it a little before it begins.
    """
    attempts = {a.onset.id: a for a in reps.attempts}
    owner = {use.marker.id: own_marker(use).attempt for use in reps.event_uses}
    events: list[Event] = []
    #: Event markers since the onset before, with how many events had come by then.
    markers: list[tuple[Event, int]] = []
    for event in reps.record.ordered:
        if event.kind in ("cue", "prompt"):
            events.append(event)
        elif event.id in owner:
            markers.append((event, len(events)))
        elif event.kind == "onset":
            attempt = attempts[event.id]
            foreign = [n for marker, n in markers if owner[marker.id] is not attempt]
            own = events[foreign[-1] if foreign else 0 :]
            cues = tuple(e for e in own if e.kind == "cue")
            yield Run(attempt, cues, tuple(e for e in own if e.kind == "prompt"))
            events, markers = [], []
