"""When was the animal at work: bouts, breaks and the training clock."""

from __future__ import annotations

import itertools
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from ..reading.document_values import fault_words
from .events import Event, SessionFacts, SessionRecord, ticks


class BoutFault(ValueError):
    """A bout begins inside another or ends outside one. `event_id` names the mark."""

    def __init__(self, event_id: str, code: str):
        super().__init__(fault_words(code))
        self.event_id = event_id
        self.code = code


@dataclass(frozen=True, slots=True)
class Bout:
    """A stretch of work, start and end in ticks on the recording."""

    start: int
    end: int


@dataclass(frozen=True)
class TrainingClock:
    """Maps instants of the recording to training time; breaks do not count.

    All values are ticks. An instant in a break stands at the end of the bout before
    it, one before the first bout at zero.
    """

    bouts: tuple[Bout, ...]

    @cached_property
    def _starts(self) -> tuple[int, ...]:
        return tuple(b.start for b in self.bouts)

    @property
    def total(self) -> int:
        """Training time in ticks."""
        return self._passed[-1]

    @cached_property
    def _passed(self) -> tuple[int, ...]:
        """Training time before each bout, and in all."""
        lengths = (b.end - b.start for b in self.bouts)
        return tuple(itertools.accumulate(lengths, initial=0))

    def at(self, instant: int) -> int:
        """Training time that has passed at this instant of the recording."""
        place = bisect_right(self._starts, instant) - 1
        if place < 0:
            return 0
        bout = self.bouts[place]
        return self._passed[place] + min(instant, bout.end) - bout.start

    def instant(self, passed: int) -> int:
        """The first instant of the recording at which this much training time has passed."""
        if not self.bouts:
            return 0
        place = min(max(0, bisect_left(self._passed, passed) - 1), len(self.bouts) - 1)
        bout = self.bouts[place]
        return min(bout.start + passed - self._passed[place], bout.end)

    def bout_of(self, instant: int) -> int:
        """Index of the bout an instant belongs to; one in a break belongs to the bout before."""
        return max(0, bisect_right(self._starts, instant) - 1)

    def in_break(self, instant: int) -> bool:
        """Whether an instant lies in no bout."""
        if not self.bouts:
            return False
        bout = self.bouts[self.bout_of(instant)]
        return not bout.start <= instant <= bout.end


def training_clock(record: SessionRecord) -> TrainingClock:
    """The session's bouts; without bout marks, the whole session as one.

    Raises BoutFault if the bout marks do not alternate.
    """
    bouts = _coded_bouts(record.ordered, record.session)
    if not bouts:
        bouts = _whole_session(record.ordered, record.session)
    return TrainingClock(tuple(bouts))


def _coded_bouts(ordered: Sequence[Event], facts: SessionFacts) -> list[Bout]:
    bouts: list[Bout] = []
    start: int | None = None
    for event in ordered:
        if event.kind == "bout_start":
            if start is not None:
                raise BoutFault(event.id, "bout_in_bout")
            start = event.best
        elif event.kind == "bout_end":
            if start is None:
                raise BoutFault(event.id, "no_bout")
            bouts.append(Bout(start, event.best))
            start = None
    if start is not None:
        end = ordered[-1].best
        if facts.end_s is not None and ticks(facts.end_s) > start:
            end = ticks(facts.end_s)
        bouts.append(Bout(start, end))
    return bouts


def _whole_session(ordered: Sequence[Event], facts: SessionFacts) -> list[Bout]:
    first = ordered[0].best if ordered else None
    last = ordered[-1].best if ordered else None
    start = ticks(facts.start_s) if facts.start_s is not None else first
    end = ticks(facts.end_s) if facts.end_s is not None else last
    if start is None or end is None:
        return []
    return [Bout(start, max(start, end))]
