"""What a trainer thought of each rep while leading, against what the film of it shows.

The reviewer sees what was tapped before judging, which pulls the two together (common practice):
how often they differ is the least it can be.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..model.reps import Reps
from ..statistics.summaries import Share, wilson


@dataclass(frozen=True)
class LedReps:
    """Reps tapped in the yard against the film.

    `tapped` of them lie on the film; of those `open` have not been looked at, and `unseen` were
    taken out: the film shows none. `differ` counts those that were judged otherwise at the film
    among all judged twice: `only_tapped` fitted for the trainer alone, `only_filmed` for the film
    alone. `untapped` reps of the film nobody tapped.
    """

    tapped: int
    open: int
    unseen: int
    untapped: int
    differ: Share
    only_tapped: int
    only_filmed: int


def led_reps(reps: Reps) -> LedReps | None:
    """The two held against one another; None for a session that nobody led by phone."""
    taps = {tap.id: tap for tap in reps.record.taps if tap.kind == "onset"}
    if not reps.record.taps:
        return None
    there = {event.id: event for event in reps.record.of_kind("onset")}
    open_ids = {key for key, tap in taps.items() if there.get(key) == tap}
    twice = [
        (tap.met, there[key].met)
        for key, tap in taps.items()
        if key in there and key not in open_ids and None not in (tap.met, there[key].met)
    ]
    only_tapped = sum(said is True and shown is False for said, shown in twice)
    only_filmed = sum(said is False and shown is True for said, shown in twice)
    return LedReps(
        tapped=len(taps),
        open=len(open_ids),
        unseen=sum(key not in there for key in taps),
        untapped=sum(key not in taps for key in there),
        differ=wilson(only_tapped + only_filmed, len(twice)),
        only_tapped=only_tapped,
        only_filmed=only_filmed,
    )


def tapped_met(reps: Reps) -> Mapping[str, bool | None]:
    """Whether each rep fitted for the trainer who led it, by its onset's id."""
    return {tap.id: tap.met for tap in reps.record.taps if tap.kind == "onset"}
