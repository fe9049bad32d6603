"""How sure the film lets each measure be: what the marks' own widths allow."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..model.events import MICROSECONDS, SQRT_12, Event
from ..model.reps import Reps
from .helping import cue_lead_pairs
from .pauses import Pause
from .responding import Presentation, response_pairs
from .timing import reach_pairs, timing_uncertainty_s


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
    values that enter the measure; None where there are none.
    """
    attempts = reps.attempts
    return Sources(
        marker_latency_s=_of_pairs((a.timing_marker, a.onset) for a in attempts if a.timing_marker),
        timing_error_s=_rms(
            u
            for a in attempts
            if a.target is not None and (u := timing_uncertainty_s(a)) is not None
        ),
        reward_latency_s=_of_pairs((u.marker, u.first_reward) for u in reps.uses if u.rewards),
        reach_lead_s=_of_pairs(reach_pairs(reps)),
        response_latency_s=_of_pairs(response_pairs(found)),
        pause_s=_of_pairs((p.begins, p.next.onset) for p in rest),
        cue_lead_s=_of_pairs(cue_lead_pairs(reps)),
        held_s=_of_pairs((a.offset, a.onset) for a in reps.reps if a.offset),
    )


def _of_pairs(pairs: Iterable[tuple[Event | None, Event | None]]) -> float | None:
    """Root mean square of the pairs' uncertainties, from the squares of their widths."""
    total = count = 0
    for one, other in pairs:
        count += 1
        if one is not None:
            total += one.width_us * one.width_us
        if other is not None:
            total += other.width_us * other.width_us
    return math.sqrt(total / count) / MICROSECONDS / SQRT_12 if count else None


def _rms(values: Iterable[float]) -> float | None:
    squares = [v * v for v in values]
    return math.sqrt(sum(squares) / len(squares)) if squares else None
