"""The core on long sessions and long histories, and the API on a typical one."""

from __future__ import annotations

import datetime as dt
import gc
import random
import resource
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from tests.house import House

from frequens.core import Event, SessionFacts, SessionRecord, measure, write_session
from frequens.core.history.progress import DayCount, growth, steps

SIZES = (1_000, 3_000, 10_000, 30_000, 100_000)
HISTORY = (50, 500)
TYPICAL = 300


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
    return SessionRecord(session=SessionFacts(start_s=0.0), events=tuple(marks))


def run(folder: Path) -> Iterator[str]:
    measure(session(400))  # what is imported on first use is not what is measured
    before: tuple[int, float] | None = None
    for size in SIZES:
        spent = median(_measured(size) for _ in range(3))
        grown = ""
        if before is not None:
            grown = f", {spent / before[1]:.1f} times for {size / before[0]:.1f} times the events"
        before = (size, spent)
        yield f"{size:>7} events: {spent * 1000:.0f} ms{grown}"
    yield f"most memory held so far: {_memory_mb():.0f} MB"
    yield from _history()
    yield from _api(folder)


def _measured(size: int) -> float:
    """Seconds to measure a session nobody has looked at yet."""
    record = session(size)
    gc.collect()  # what was left by the session before is not this one's
    return _timed(lambda: measure(record))


def _timed(work: object) -> float:
    assert callable(work)
    began = time.perf_counter()
    work()
    return time.perf_counter() - began


def _memory_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def _history() -> Iterator[str]:
    start = dt.date(2026, 1, 5)
    found = measure(session(TYPICAL))
    for sessions in HISTORY:
        days = [start + dt.timedelta(days=n) for n in range(sessions)]
        counts = [DayCount(day, 40 + n % 7, 5.0) for n, day in enumerate(days)]
        began = time.perf_counter()
        growth(counts)
        steps([(day, found) for day in days], days[-1])
        yield f"{sessions:>7} sessions of history: {(time.perf_counter() - began) * 1000:.1f} ms"


def _api(folder: Path) -> Iterator[str]:
    home = folder / "api"
    home.mkdir()
    with House(home) as house:
        house.add_trainer()
        trainer = house.start().trainer()
        made = trainer.ask(
            "POST", "/api/sessions/import", json=write_session(session(TYPICAL))
        ).json()
        path = f"/api/sessions/{made['session_id']}/findings"
        trainer.ask("GET", path)
        times = sorted(_timed(lambda: trainer.ask("GET", path)) * 1000 for _ in range(60))
    yield (
        f"{TYPICAL} events through the API: median {times[30]:.0f} ms, "
        f"95 % within {times[57]:.0f} ms (aim 50)"
    )
