"""Taking times fairly: the two ways in turn, and the middle of each."""

from __future__ import annotations

import time
from collections.abc import Callable
from statistics import median


def in_turn(ours: Callable[[], object], other: Callable[[], object], rounds: int = 5):
    """Median seconds of each, run alternately so that a busy machine hits both."""
    spent: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds):
        for way, times in zip((ours, other), spent, strict=True):
            began = time.perf_counter()
            way()
            times.append(time.perf_counter() - began)
    return median(spent[0]), median(spent[1])


def compared(what: str, ours: float, other: float, aim: float) -> str:
    """One line: both times, their ratio, and the aim."""
    return f"{what}: {ours:.3f} s against {other:.3f} s, ratio {ours / other:.2f} (aim ≤ {aim:g})"
