"""What else the animal did: other behaviours it offered, and signs of how it feels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from scipy import special

from ..model.events import seconds, ticks
from ..model.reps import Reps
from ..statistics.summaries import Share, poisson_rate, wilson
from .pauses import third_of
from .rates import DrySpells


@dataclass(frozen=True, slots=True)
class OfferedLabel:
    """One other behaviour: its rate a minute, and how often in either half of the training time.

    `p` is two-sided, of the exact binomial test that both halves are alike.
    """

    value: float | None
    low: float | None
    high: float | None
    count: int
    first_half: int
    second_half: int
    p: float | None


@dataclass(frozen=True, slots=True)
class Offered:
    """Other behaviours by label, and how many of all fell into dry spells."""

    labels: Mapping[str, OfferedLabel]
    in_dry_spells: Share


@dataclass(frozen=True, slots=True)
class Sign:
    """One kind of sign: its rate a minute, its worst severity, and when it came."""

    value: float | None
    low: float | None
    high: float | None
    count: int
    worst: int
    first_third: int
    last_third: int


@dataclass(frozen=True, slots=True)
class Signs:
    """Signs by label; counts over all in the first and last third of the training time."""

    labels: Mapping[str, Sign]
    first_third: int
    last_third: int


def offered(reps: Reps, dry: DrySpells) -> Offered:
    """Other behaviours per label and minute, and the share of them inside dry spells."""
    events = reps.record.of_kind("other_behaviour")
    counts = Counter(e.label or "" for e in events)
    minutes = seconds(reps.clock.total) / 60
    spells = [(ticks(s.start_s), ticks(s.end_s)) for s in dry.spells]
    inside = sum(any(start <= e.best <= end for start, end in spells) for e in events)
    return Offered(
        {
            label: _label(reps, n, minutes, [e.best for e in events if (e.label or "") == label])
            for label, n in sorted(counts.items())
        },
        wilson(inside, len(events)),
    )


def _label(reps: Reps, count: int, minutes: float, instants: Sequence[int]) -> OfferedLabel:
    rate = poisson_rate(count, minutes)
    first = sum(2 * reps.clock.at(t) < reps.clock.total for t in instants)
    fewer = min(first, count - first)
    # Both tails of the binomial with one half are alike.
    p = min(1.0, 2 * float(special.bdtr(fewer, count, 0.5)))
    return OfferedLabel(rate.value, rate.low, rate.high, count, first, count - first, p)


def signs(reps: Reps) -> Signs:
    """Signs per label and minute, with the first and last third beside each other."""
    events = reps.record.of_kind("sign")
    minutes = seconds(reps.clock.total) / 60
    thirds = {e.id: third_of(reps, e.best) for e in events}
    labels: dict[str, Sign] = {}
    for label in sorted({e.label or "" for e in events}):
        own = [e for e in events if (e.label or "") == label]
        rate = poisson_rate(len(own), minutes)
        labels[label] = Sign(
            rate.value,
            rate.low,
            rate.high,
            rate.count,
            worst=max(e.severity or 0 for e in own),
            first_third=sum(thirds[e.id] == 0 for e in own),
            last_third=sum(thirds[e.id] == 2 for e in own),
        )
    return Signs(
        labels,
        sum(third == 0 for third in thirds.values()),
        sum(third == 2 for third in thirds.values()),
    )
