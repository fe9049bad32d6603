"""The step worked last: how the marker lay against the instant the plan wants there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..model.events import MarkAt
from ..statistics.summaries import Summary, summarise
from .splits import Segment
from .timing import TimedAttempt


@dataclass(frozen=True, slots=True)
class InForce:
    """The step of the last stretch with an attempt, and its markers over the whole session.

    `mark_at` is the instant the plan wants (``onset``, ``hold``, ``offset``), None where it says
    none; `hold_s` the hold that goes with it. `timing_error_s` is marker minus that instant.
    """

    approximation: str | None
    mark_at: MarkAt | None
    hold_s: float | None
    marker_latency_s: Summary
    timing_error_s: Summary


def in_force(segments: Sequence[Segment], timed: Sequence[TimedAttempt]) -> InForce | None:
    """None for a session without attempts."""
    last = next((s for s in reversed(segments) if s.attempts), None)
    if last is None:
        return None
    own = [t for t in timed if t.attempt.approximation == last.approximation]
    attempt = last.attempts[-1]
    return InForce(
        last.approximation,
        attempt.mark_at,
        attempt.step.hold_s if attempt.step and attempt.mark_at == "hold" else None,
        summarise(t.marker_latency_s for t in own if t.marker_latency_s is not None),
        summarise(t.timing_error_s for t in own if t.timing_error_s is not None),
    )
