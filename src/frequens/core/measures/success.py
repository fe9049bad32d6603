"""Did the attempts fit the criterion, and did the trainer mark those that did?"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import groupby

from ..model.events import seconds
from ..model.reps import Attempt, Reps
from ..statistics.summaries import Summary, summarise, wilson


@dataclass(frozen=True, slots=True)
class Success:
    """Attempts that met the criterion among those judged, with Wilson's 95 % interval."""

    met: int
    judged: int
    share: float | None
    low: float | None
    high: float | None
    longest_run: int


@dataclass(frozen=True, slots=True)
class Fidelity:
    """Whether the marker went to the attempts that met the criterion, and only to them."""

    met_marked: int
    met_unmarked: int
    unmet_marked: int
    unmet_unmarked: int
    share: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Held:
    """How long the behaviour was held, seconds, and rewards per held attempt."""

    summary: Summary
    rewards_per_attempt: float


def success(attempts: tuple[Attempt, ...]) -> Success:
    """Success over the judged attempts, in time order; unjudged ones are skipped."""
    judged = [a.onset.met for a in attempts if a.onset.met is not None]
    share = wilson(sum(judged), len(judged))
    runs = (len(list(run)) for met, run in groupby(judged) if met)
    return Success(share.count, share.of, share.share, share.low, share.high, max(runs, default=0))


def fidelity(reps: Reps) -> Fidelity:
    """Judged attempts by criterion and marker; the share right counts the first and the last."""
    judged = [
        (a.onset.met, a.timing_marker is not None) for a in reps.reps if a.onset.met is not None
    ]
    right = wilson(sum(met == marked for met, marked in judged), len(judged))
    return Fidelity(
        met_marked=judged.count((True, True)),
        met_unmarked=judged.count((True, False)),
        unmet_marked=judged.count((False, True)),
        unmet_unmarked=judged.count((False, False)),
        share=right.share,
        low=right.low,
        high=right.high,
    )


def held(reps: Reps) -> Mapping[str, Held]:
    """Held durations by approximation key; attempts under none stand under the empty key."""
    groups: dict[str, list[Attempt]] = {}
    for attempt in reps.reps:
        if attempt.held is not None:
            groups.setdefault(attempt.approximation or "", []).append(attempt)
    return {
        key: Held(
            summarise(seconds(a.held) for a in group if a.held is not None),
            sum(len(a.rewards) for a in group) / len(group),
        )
        for key, group in groups.items()
    }
