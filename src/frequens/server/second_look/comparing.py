"""Two codings mark by mark: what both have, what only one has, and in what they differ."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from frequens.core.formats.session_document import read_event
from frequens.core.measures.agreement import Agreement
from frequens.core.model.events import MICROSECONDS, Event
from frequens.words.spoken import refusals as words

from ..coding.edit_store import Present, as_of, session_record
from ..coding.timeline import Timeline
from .looks import Refused, compared
from .models import SecondLook, Settled

#: Fields that say where a mark lies, or which one it is, not what it is.
_PLACES = frozenset({"id", "frame", "pts", "clip", "clock", "t", "width", "source", "link"})


@dataclass(frozen=True)
class Placed:
    """One coder's mark: as it is stored, and the instant and film frame it lies on."""

    stored: Mapping[str, Any]
    t_us: int
    film_id: str
    frame: int


@dataclass(frozen=True)
class Pair:
    """A mark that both have, or only one of them."""

    kind: str
    first: Placed | None
    second: Placed | None

    @property
    def ids(self) -> tuple[str | None, str | None]:
        return (
            self.first.stored["id"] if self.first else None,
            self.second.stored["id"] if self.second else None,
        )

    @property
    def frames(self) -> int | None:
        """How many frames later the second lies."""
        if self.first is None or self.second is None or self.first.film_id != self.second.film_id:
            return None
        return self.second.frame - self.first.frame

    @property
    def difference_s(self) -> float | None:
        """How much later the second lies, seconds."""
        if self.first is None or self.second is None:
            return None
        return (self.second.t_us - self.first.t_us) / MICROSECONDS

    @property
    def differs(self) -> list[str]:
        """The fields in which the two marks say something else."""
        if self.first is None or self.second is None:
            return []
        one, other = self.first.stored, self.second.stored
        names = (one.keys() | other.keys()) - _PLACES
        return sorted(name for name in names if one.get(name) != other.get(name))

    @property
    def is_alike(self) -> bool:
        """Whether both have it, on the same frame, and say the same."""
        return self.frames == 0 and not self.differs


@dataclass(frozen=True)
class Comparison:
    """A second look opened: the agreement, its pairs in time order, and what was settled."""

    agreement: Agreement
    pairs: list[Pair]
    settled: dict[tuple[str | None, str | None], Settled]
    timeline: Timeline

    def placed(self, stored: Mapping[str, Any]) -> Placed:
        """A mark that was settled, on its film."""
        event = read_event(self.timeline.document_event(stored))
        return place(event, stored, self.timeline)

    @property
    def open_pairs(self) -> list[Pair]:
        """What differs and is not settled yet."""
        return [p for p in self.pairs if not p.is_alike and p.ids not in self.settled]


def comparison_of(look: SecondLook) -> Comparison:
    """The two codings as they were when each was done. Raises Refused before both are."""
    agreement = compared(look)
    if not (look.first_at and look.second_at):
        raise Refused(words.COMPARED_LATER)
    one, other = look.first, look.coding
    then, after = as_of(one, look.first_at), as_of(other, look.second_at)
    first = _placed(session_record(one, then).ordered, then)
    second = _placed(session_record(other, after).ordered, after)
    pairs = sorted(_pairs(agreement, first, second), key=_when)
    settled = {row.pair: row for row in look.settled.select_related("author")}
    return Comparison(agreement, pairs, settled, then.timeline)


def _pairs(
    agreement: Agreement, first: Mapping[str, Placed], second: Mapping[str, Placed]
) -> Iterator[Pair]:
    for kind, found in agreement.kinds.items():
        for match in found.matches:
            if match.a in first and match.b in second:
                yield Pair(kind, first[match.a], second[match.b])
        yield from (Pair(kind, first[key], None) for key in found.only_a if key in first)
        yield from (Pair(kind, None, second[key]) for key in found.only_b if key in second)


def _when(pair: Pair) -> tuple[int, str]:
    placed = pair.first or pair.second
    return (placed.t_us if placed else 0), pair.kind


def _placed(events: tuple[Event, ...], then: Present) -> dict[str, Placed]:
    """Marks by id; ends and beginnings that the clips make by themselves are nobody's."""
    return {
        event.id: place(event, stored, then.timeline)
        for event in events
        if (stored := then.folded.events.get(event.id)) is not None
    }


def place(event: Event, stored: Mapping[str, Any], timeline: Timeline) -> Placed:
    """The frame an event lies on: its own, or the first that can show what it is."""
    best_us = event.best // 2
    starts = [clip.start_us for clip in timeline.clips]
    clip = timeline.clips[max(0, bisect_right(starts, best_us) - 1)]
    if "frame" in stored:
        clip = timeline.clip_of(stored)
        return Placed(stored, best_us, clip.film_id, stored["frame"])
    return Placed(stored, best_us, clip.film_id, clip.index.first_after(best_us - clip.start_us))
