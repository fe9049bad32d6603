"""What a step's attempts measured: how high, how long, how many, against its target."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..model.reps import Attempt, Reps
from ..statistics.summaries import Share, Summary, summarise, wilson
from .conditions import level_name


@dataclass(frozen=True, slots=True)
class LevelOfValue:
    """Values at one level of a condition."""

    n: int
    median: float | None


@dataclass(frozen=True, slots=True)
class Values:
    """Values of one step: middles of the first and last third in order, and the share at the
    target or beyond; None without one."""

    summary: Summary
    first_third: float | None
    last_third: float | None
    target: float | None
    reached: Share | None
    conditions: Mapping[str, Mapping[str, LevelOfValue]]


def values(reps: Reps) -> Mapping[str, Values]:
    """Values by step, the empty key for attempts without one."""
    groups: dict[str, list[Attempt]] = {}
    for attempt in reps.reps:
        if attempt.onset.value is not None:
            groups.setdefault(attempt.approximation or "", []).append(attempt)
    return {key: _values(group) for key, group in groups.items()}


def _values(group: Sequence[Attempt]) -> Values:
    own = [a.onset.value for a in group if a.onset.value is not None]
    third = len(own) // 3
    quantity = group[0].step.quantity if group[0].step is not None else None
    has_target = quantity is not None and quantity.target is not None
    levels: dict[str, dict[str, list[float]]] = {}
    for attempt in group:
        for name, level in (attempt.onset.conditions or {}).items():
            at_level = levels.setdefault(name, {}).setdefault(level_name(level), [])
            if attempt.onset.value is not None:
                at_level.append(attempt.onset.value)
    return Values(
        summary=summarise(own),
        first_third=summarise(own[:third]).median if third else None,
        last_third=summarise(own[-third:]).median if third else None,
        target=quantity.target if quantity is not None else None,
        reached=(
            wilson(sum(quantity.is_reached(v) for v in own), len(own))
            if quantity is not None and has_target
            else None
        ),
        conditions={
            name: {
                level: LevelOfValue(len(v), summarise(v).median) for level, v in own_levels.items()
            }
            for name, own_levels in levels.items()
        },
    )
