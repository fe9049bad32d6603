"""What carried over: a behaviour at a new object, gear or place against the one before it."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

from ..statistics.summaries import BEYOND_CHANCE, Difference, Share, fisher_p, newcombe, wilson

#: So many of the first judged reps at the new one are held against as many of the last before it.
HELD_AGAINST = 5
#: With fewer before it there is nothing that could have carried over.
LEAST_BEFORE = 3


@dataclass(frozen=True, slots=True)
class Seen:
    """A judged rep: its day, step and conditions, whether it fitted, and how long after its cue it
    began, seconds; None where nothing was asked."""

    day: dt.date | None
    step: str | None
    conditions: Mapping[str, str]
    met: bool
    response_s: float | None = None


@dataclass(frozen=True, slots=True)
class End:
    """One end of a transfer: some reps at a level, next to the other one in time.

    `met`, `step` and `response_s`, how long after its cue it began, are of the rep that is nearest
    to it; `success` is of up to HELD_AGAINST with their 95 % interval (Wilson), and `middle_s` the
    median of how long after their cues they began. Times in seconds, None where nothing was asked.
    """

    level: str
    step: str | None
    met: bool
    success: Share
    response_s: float | None
    middle_s: float | None


@dataclass(frozen=True, slots=True)
class Transfer:
    """From one level of a condition to one that had never been tried.

    `change` is the share at the new one minus that before, with its 95 % interval (Newcombe).
    `carried` says whether it went worse or better beyond chance, by Fisher's exact test (`p`),
    which unlike the interval holds for a rep or two; None where that cannot be told.
    """

    condition: str
    day: dt.date | None
    before: End
    after: End
    change: Difference
    p: float
    carried: Literal["less", "more"] | None


def transfers(names: Sequence[str], reps: Sequence[Seen]) -> tuple[Transfer, ...]:
    """Every first time at a level of these conditions, in the order of the names and of time.

    `reps` in the order they were done. A level counts as new when no rep was done at it before,
    and the one before it is that of the last rep that names another; with fewer than LEAST_BEFORE
    judged reps there, nothing is said.
    """
    return tuple(one for name in names for one in _of(name, reps))


def _of(name: str, reps: Sequence[Seen]) -> list[Transfer]:
    told = [rep for rep in reps if name in rep.conditions]
    found: list[Transfer] = []
    tried: set[str] = set()
    for place, rep in enumerate(told):
        level = rep.conditions[name]
        if level in tried:
            continue
        tried.add(level)
        earlier = told[:place]
        before = earlier[-1].conditions[name] if earlier else None
        last = [one for one in earlier if one.conditions[name] == before]
        if before is None or len(last) < LEAST_BEFORE:
            continue
        first = [one for one in told[place:] if one.conditions[name] == level]
        one = _end(before, last[-HELD_AGAINST:][::-1])
        other = _end(level, first[:HELD_AGAINST])
        found.append(_between(name, rep.day, one, other))
    return found


def _between(name: str, day: dt.date | None, before: End, after: End) -> Transfer:
    change, p = newcombe(after.success, before.success), fisher_p(after.success, before.success)
    carried: Literal["less", "more"] | None = None
    if p <= BEYOND_CHANCE:
        carried = "less" if (change.value or 0) < 0 else "more"
    return Transfer(name, day, before, after, change, p, carried)


def _end(level: str, nearest: Sequence[Seen]) -> End:
    """`nearest` first."""
    success = wilson(sum(rep.met for rep in nearest), len(nearest))
    answered = [rep.response_s for rep in nearest if rep.response_s is not None]
    return End(
        level=level,
        step=nearest[0].step,
        met=nearest[0].met,
        success=success,
        response_s=nearest[0].response_s,
        middle_s=median(answered) if answered else None,
    )
