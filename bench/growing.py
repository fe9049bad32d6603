"""What many trainers cost: the same asking with ten of them, a thousand, a hundred thousand.

The others' rows are written straight into the database, a learner, a plan, a session and its marks
each; the trainer who is timed has twenty sessions and does what the screens do.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from pathlib import Path
from statistics import median, quantiles
from typing import Any

import requests
from tests.house import House, Trainer
from tests.postgres import postgres, programs

from frequens.core import write_session

from .measuring import session

TRAINERS = (10, 1_000, 100_000)
OWN_SESSIONS, OWN_REPS, MARKS_OF_OTHERS, ROUNDS = 20, 10, 12, 15
#: Pages open at once while one is timed: each asks again as the screens do while films come in.
OPEN_PAGES, POLL_S, POLLING_S = 40, 2.0, 12.0
#: The bytes of the whole database, asked of itself.
SIZE = """
from django.db import connection
of_sqlite = "SELECT page_count * page_size FROM pragma_page_count(), pragma_page_size()"
of_postgres = "SELECT pg_database_size(current_database())"
with connection.cursor() as ask:
    ask.execute(of_sqlite if connection.vendor == "sqlite" else of_postgres)
    print(ask.fetchone()[0])
"""


def run(folder: Path) -> Iterator[str]:
    for others in TRAINERS:
        yield from _grown(folder / f"growing-{others}", others)
    if programs() is None:
        yield "PostgreSQL is not installed: left out"
        return
    for others in TRAINERS:
        with postgres(is_durable=True) as url:
            yield from _grown(folder / f"growing-{others}-postgres", others, DATABASE_URL=url)


def _grown(home: Path, others: int, **database: str) -> Iterator[str]:
    """A house with so many others in its database, and what one trainer waits for in it."""
    home.mkdir()
    with House(home, **database) as house:
        house.add_trainer()
        began = time.perf_counter()
        _fill(home, others, database)
        kind = "PostgreSQL" if database else "SQLite"
        size_mb = float(house.manage("shell", "-v0", "-c", SIZE)) / 1e6
        yield (
            f"{kind}, {others} trainers: {size_mb:.1f} MB, {1000 * size_mb / others:.0f} kB each "
            f"(written in {time.perf_counter() - began:.0f} s)"
        )
        for line in _asked(house.start()):
            yield f"    {line}"
        if not database:
            yield f"    a backup of all: {_backup_s(house):.1f} s"


def _asked(house: House) -> Iterator[str]:
    """What one of them waits for."""
    began = time.perf_counter()
    trainer = house.trainer()
    yield f"logging in: {(time.perf_counter() - began) * 1000:.0f} ms"
    mark = _own(trainer)
    for name, path in (("today", "today"), ("films", "films"), ("sessions", "sessions")):
        yield f"{name}: {_ms(partial(trainer.ask, 'GET', f'/api/{path}')):.1f} ms"
    yield f"a mark: {_ms(mark):.1f} ms"
    middle, worst, polls = _while_polled(house, trainer, mark)
    yield (
        f"a mark with {OPEN_PAGES} pages open: {middle:.1f} ms, one in twenty above {worst:.1f} ms "
        f"({polls / POLLING_S:.0f} questions a second beside it)"
    )


def _ms(ask: Callable[[], requests.Response]) -> float:
    return median([_once_ms(ask) for _ in range(ROUNDS + 1)][1:])


def _once_ms(ask: Callable[[], requests.Response]) -> float:
    began = time.perf_counter()
    answer = ask()
    assert answer.ok, answer.text
    return (time.perf_counter() - began) * 1000


def _own(trainer: Trainer) -> Callable[[], requests.Response]:
    """Twenty sessions of the trainer who is timed; returns what places one mark more."""
    for number in range(OWN_SESSIONS):
        document: dict[str, Any] = write_session(session(4 * OWN_REPS))
        document["session"]["date"] = f"2026-05-{number + 1:02d}"
        made = trainer.ask("POST", "/api/sessions/import", json=document).json()["session_id"]
    number = 0

    def mark() -> requests.Response:
        nonlocal number
        number += 1
        event = {"id": f"x{number}", "kind": "reward", "t": round(0.001 * number, 3)}
        edit = {"client_id": f"x{number}", "body": {"op": "put", "event": event}}
        return trainer.ask("POST", f"/api/sessions/{made}/edits", json={"edits": [edit]})

    return mark


def _while_polled(
    house: House, trainer: Trainer, mark: Callable[[], requests.Response]
) -> tuple[float, float, int]:
    """A mark's milliseconds, in the middle and the slowest twentieth, and how often was polled."""
    ends = time.monotonic() + POLLING_S
    cookie = "; ".join(f"{one.name}={one.value}" for one in trainer.cookies)

    def poll(page: int) -> int:
        times = 0
        time.sleep(POLL_S * page / OPEN_PAGES)
        while time.monotonic() < ends:
            path = f"{house.url}/api/films?under_way=true"
            assert requests.get(path, headers={"Cookie": cookie}, timeout=30).ok
            times += 1
            time.sleep(POLL_S)
        return times

    with ThreadPoolExecutor(OPEN_PAGES) as pages:
        polling = [pages.submit(poll, page) for page in range(OPEN_PAGES)]
        times = []
        while time.monotonic() < ends:
            times.append(_once_ms(mark))
            time.sleep(0.1)
        polls = sum(one.result() for one in polling)
    return median(times), quantiles(times, n=20)[-1], polls


def _backup_s(house: House) -> float:
    began = time.perf_counter()
    subprocess.run(
        [
            str(Path(sys.executable).with_name("frequens")),
            "backup",
            str(house.home / "all.frequens"),
        ],
        env={**os.environ, "FREQUENS_HOME": str(house.home)},
        check=True,
        stdout=subprocess.DEVNULL,
    )
    return time.perf_counter() - began


def _fill(home: Path, others: int, database: Mapping[str, str]) -> None:
    """Write the others' rows, in a process of its own as Django has one database for each."""
    subprocess.run(
        [sys.executable, "-m", "bench.others", str(others), str(MARKS_OF_OTHERS)],
        env={**os.environ, "FREQUENS_HOME": str(home), **database},
        check=True,
    )
