"""How sure the film, and whoever codes it, lets each measure be."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ..model.events import MICROSECONDS, SQRT_12, Event
from ..model.reps import Reps
from .helping import cue_lead_pairs
from .pauses import Pause
from .responding import Presentation, response_pairs
from .timing import aim_of, reach_pairs


@dataclass(frozen=True)
class Sources:
    """Standard uncertainties of single values, seconds; None where there are none."""

    marker_latency_s: float | None
    timing_error_s: float | None
    reward_latency_s: float | None
    reach_lead_s: float | None
    response_latency_s: float | None
    pause_s: float | None
    cue_lead_s: float | None
    held_s: float | None


def sources(reps: Reps, found: Sequence[Presentation], rest: Sequence[Pause]) -> Sources:
    """Standard uncertainty in seconds of one value of each measure of time.

    `found` are the session's presentations, `rest` its pauses. The root mean square over the
    values that enter the measure; None where there are none. Each mark is as sure as its width
    lets it be, or as the people who placed it, whichever is less.
    """
    attempts = reps.attempts
    of = _Pairs(reps.record.placed_u_s)
    timed = [a for a in attempts if a.timing_marker]
    return Sources(
        marker_latency_s=of.pairs((a.timing_marker, a.onset) for a in timed),
        timing_error_s=of.pairs(
            (a.timing_marker, aim_of(a)) for a in timed if a.target is not None
        ),
        reward_latency_s=of.pairs((u.marker, u.first_reward) for u in reps.uses if u.rewards),
        reach_lead_s=of.pairs(reach_pairs(reps)),
        response_latency_s=of.pairs(response_pairs(found)),
        pause_s=of.pairs((p.begins, p.next.onset) for p in rest),
        cue_lead_s=of.pairs(cue_lead_pairs(reps)),
        held_s=of.pairs((a.offset, a.onset) for a in reps.reps if a.offset),
    )


class _Pairs:
    """Uncertainties of pairs of events, where people place a kind so surely, seconds."""

    def __init__(self, placed_u_s: Mapping[str, float]):
        self._least = {kind: (u * MICROSECONDS) ** 2 * 12 for kind, u in placed_u_s.items()}

    def pairs(self, pairs: Iterable[tuple[Event | None, Event | None]]) -> float | None:
        """Root mean square of the pairs' uncertainties, from the squares of their widths."""
        total: float = 0
        count = 0
        for one, other in pairs:
            count += 1
            total += self._square(one) + self._square(other)
        return math.sqrt(total / count) / MICROSECONDS / SQRT_12 if count else None

    def _square(self, event: Event | None) -> float:
        """A width squared that stands for how sure the event is."""
        if event is None:
            return 0
        return max(event.width_us * event.width_us, self._least.get(event.kind, 0))
