"""What happened before each attempt: the stretch since the marker before it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from .events import Event
from .reps import Attempt, Reps


@dataclass(frozen=True, slots=True)
class Run:
    """The cues and prompts between the marker before an attempt and its onset."""

    attempt: Attempt
    cues: tuple[Event, ...]
    prompts: tuple[Event, ...]


def runs_up(reps: Reps) -> Iterator[Run]:
    """Each attempt with the cues and prompts that led up to it, in time order."""
    attempts = {a.onset.id: a for a in reps.attempts}
    cues: list[Event] = []
    prompts: list[Event] = []
    for event in reps.record.ordered:
        if event.kind == "cue":
            cues.append(event)
        elif event.kind == "prompt":
            prompts.append(event)
        elif event.kind == "marker" and event.marker == "event":
            cues.clear()
            prompts.clear()
        elif event.kind == "onset":
            yield Run(attempts[event.id], tuple(cues), tuple(prompts))
