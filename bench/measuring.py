"""The core on long sessions: does the time grow no faster than the number of events?"""

from __future__ import annotations

import random
import time
from collections.abc import Iterator
from pathlib import Path

from frequens.core import Event, SessionRecord, measure

SIZES = (1_000, 10_000, 100_000)


def session(events: int) -> SessionRecord:
    """Reps one after another: onset, marker, reward, offset, with uneven gaps."""
    chance, marks, at = random.Random(events), [], 0
    for rep in range(events // 4):
        at += chance.randrange(2_000_000, 9_000_000)
        met = chance.random() < 0.7
        marks += [
            Event(f"b{rep}", "onset", at, 33_333, met=met),
            Event(f"m{rep}", "marker", at + chance.randrange(100_000, 700_000), marker="event"),
            Event(f"r{rep}", "reward", at + chance.randrange(900_000, 2_000_000), 33_333),
            Event(f"e{rep}", "offset", at + chance.randrange(200_000, 1_500_000), 33_333),
        ]
    return SessionRecord(events=tuple(marks))


def run(folder: Path) -> Iterator[str]:
    spent: list[float] = []
    for size in SIZES:
        record = session(size)
        began = time.perf_counter()
        measure(record)
        spent.append(time.perf_counter() - began)
        growth = f", {spent[-1] / spent[-2]:.1f} times for 10 times the events" if spent[1:] else ""
        yield f"{size:>7} events: {spent[-1] * 1000:.0f} ms{growth}"
