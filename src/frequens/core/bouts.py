"""When was the animal at work: bouts, breaks and the training clock."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

from .events import Event, SessionFacts, SessionRecord, ticks


class BoutFault(ValueError):
    """A bout begins inside another or ends outside one. `event_id` names the mark."""

    def __init__(self, event_id: str, message: str):
        super().__init__(message)
        self.event_id = event_id


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
        return sum(b.end - b.start for b in self.bouts)

    def at(self, instant: int) -> int:
        """Training time that has passed at this instant of the recording."""
        passed = 0
        for bout in self.bouts:
            if instant < bout.start:
                break
            passed += min(instant, bout.end) - bout.start
        return passed

    def instant(self, passed: int) -> int:
        """The first instant of the recording at which this much training time has passed."""
        for bout in self.bouts:
            if passed <= bout.end - bout.start:
                return bout.start + passed
            passed -= bout.end - bout.start
        return self.bouts[-1].end if self.bouts else 0

    def bout_of(self, instant: int) -> int:
        """Index of the bout an instant belongs to; one in a break belongs to the bout before."""
        return max(0, bisect_right(self._starts, instant) - 1)


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
                raise BoutFault(event.id, "a bout begins inside a bout")
            start = event.best
        elif event.kind == "bout_end":
            if start is None:
                raise BoutFault(event.id, "a bout ends where none has begun")
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
