"""Does it hold on the other side, further away, elsewhere: success by condition and level."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..model.reps import Attempt, Reps
from ..statistics.summaries import Share, fisher_p, newcombe, summarise, wilson
from .timing import marker_latency_s

SIDE = "side"


@dataclass(frozen=True, slots=True)
class Level:
    """Attempts at one level of a condition, their success, and the middle marker latency."""

    attempts: int
    success: Share
    marker_latency_s: float | None


@dataclass(frozen=True, slots=True)
class SideDifference:
    """Success on the first side minus the second, 95 % interval and Fisher's two-sided p."""

    first: str
    second: str
    value: float | None
    low: float | None
    high: float | None
    p: float | None


@dataclass(frozen=True, slots=True)
class Condition:
    """One condition by level; `difference` only for sides, where exactly two were worked."""

    levels: Mapping[str, Level]
    difference: SideDifference | None = None


def conditions(reps: Reps) -> Mapping[str, Condition]:
    """Every condition coded on an attempt, by its levels in their natural order."""
    groups: dict[str, dict[str, list[Attempt]]] = {}
    order: dict[str, dict[str, Any]] = {}
    for attempt in reps.reps:
        for name, level in (attempt.onset.conditions or {}).items():
            key = level_name(level)
            groups.setdefault(name, {}).setdefault(key, []).append(attempt)
            order.setdefault(name, {})[key] = level
    return {
        name: _condition(name, {k: levels[k] for k in sorted(levels, key=_natural(order[name]))})
        for name, levels in sorted(groups.items())
    }


def level_name(level: Any) -> str:
    """A level as it is called."""
    if isinstance(level, bool):
        return "yes" if level else "no"
    return f"{level:g}" if isinstance(level, int | float) else str(level)


def _natural(levels: Mapping[str, Any]) -> Any:
    """Numbers by size before words by letter."""

    def key(name: str) -> tuple[int, float, str]:
        level = levels[name]
        if isinstance(level, int | float) and not isinstance(level, bool):
            return (0, float(level), "")
        return (1, 0.0, name)

    return key


def _condition(name: str, groups: Mapping[str, Sequence[Attempt]]) -> Condition:
    levels = {level: _level(attempts) for level, attempts in groups.items()}
    if name != SIDE or len(levels) != 2:
        return Condition(levels)
    first, second = levels
    one, other = levels[first].success, levels[second].success
    gap = newcombe(one, other)
    p = fisher_p(one, other) if one.of and other.of else None
    return Condition(levels, SideDifference(first, second, gap.value, gap.low, gap.high, p))


def _level(attempts: Sequence[Attempt]) -> Level:
    judged = [a.onset.met for a in attempts if a.onset.met is not None]
    latencies = [v for v in map(marker_latency_s, attempts) if v is not None]
    return Level(len(attempts), wilson(sum(judged), len(judged)), summarise(latencies).median)
