"""How often a rep was paid, at which instants, and what was paid without a marker."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping, Sequence

from ..model.events import seconds
from ..model.reps import Attempt, Reps
from ..statistics.summaries import Share, Summary, summarise, wilson

#: When each attempt was paid, ticks, by its onset's id; attempts without a pay are left out.
Pays = Mapping[str, Sequence[int]]


def pays_of(reps: Reps) -> Pays:
    """Each attempt's pays: its rewarded markers' instants and its direct rewards' own, in order."""
    found: dict[str, list[int]] = {}
    for use in reps.uses:
        if use.rewards and use.attempt is not None:
            found.setdefault(use.attempt.onset.id, []).append(use.marker.best)
    for attempt in reps.attempts:
        if attempt.direct:
            own = found.setdefault(attempt.onset.id, [])
            own += [reward.best for reward in attempt.direct]
            own.sort()
    return found


def pays_per_rep(pays: Pays, attempts: Iterable[Attempt]) -> Summary:
    """Pays of each rep that has one."""
    return summarise(len(own) for a in attempts if (own := pays.get(a.onset.id)))


def pay_gaps(reps: Reps, pays: Pays) -> Summary:
    """Seconds between successive pays inside reps."""
    return summarise(
        seconds(after - before)
        for attempt in reps.reps
        for before, after in itertools.pairwise(pays.get(attempt.onset.id, ()))
    )


def paid_directly(reps: Reps) -> Share:
    """Attempts paid without a marker, of all."""
    return wilson(sum(bool(a.direct) for a in reps.attempts), len(reps.attempts))


def direct_reward_s(attempt: Attempt) -> float | None:
    """First direct reward minus onset, seconds."""
    return seconds(attempt.direct[0].best - attempt.onset.best) if attempt.direct else None


def direct_rewards(reps: Reps) -> Summary:
    """First direct rewards minus onset over all attempts that have one, seconds."""
    return summarise(v for v in map(direct_reward_s, reps.attempts) if v is not None)
