"""What it costs that "saved" is true: commits that wait for the disk or do not; and reports."""

from __future__ import annotations

import sqlite3
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from tests.house import House

from frequens.core import write_session

from .measuring import session

COMMITS = 300
REPORTS = (300, 1_000, 5_000)


def run(folder: Path) -> Iterator[str]:
    normal, full = (_commit_ms(folder, how) for how in ("NORMAL", "FULL"))
    yield (
        f"a commit of one mark: {full:.2f} ms on the disk, {normal:.2f} ms without waiting for it "
        f"({full / normal:.1f} times)"
    )
    home = folder / "saving"
    home.mkdir()
    with House(home) as house:
        house.add_trainer()
        trainer = house.start().trainer()
        before: tuple[int, float] | None = None
        for reps in REPORTS:
            document = write_session(session(4 * reps))
            made = trainer.ask("POST", "/api/sessions/import", json=document).json()["session_id"]
            trainer.ask("GET", f"/api/sessions/{made}/findings")
            times = []
            for _ in range(3):
                began = time.perf_counter()
                answer = trainer.ask("GET", f"/api/sessions/{made}/report.pdf")
                times.append(time.perf_counter() - began)
                assert answer.status_code == 200, answer.text
            spent = median(times)
            grown = ""
            if before is not None:
                grown = f", {spent / before[1]:.1f} times for {reps / before[0]:.1f} times the reps"
            before = (reps, spent)
            yield f"report of {reps} reps as PDF: {spent * 1000:.0f} ms{grown}"


def _commit_ms(folder: Path, how: str) -> float:
    path = folder / f"commits-{how}.sqlite3"
    connection = sqlite3.connect(path, isolation_level=None)
    connection.execute("PRAGMA journal_mode=WAL")
    connection.execute(f"PRAGMA synchronous={how}")
    connection.execute("CREATE TABLE edit (id INTEGER PRIMARY KEY, body TEXT)")
    times = []
    for number in range(COMMITS):
        began = time.perf_counter()
        connection.execute("BEGIN IMMEDIATE")
        connection.execute("INSERT INTO edit (body) VALUES (?)", [f'{{"number": {number}}}' * 8])
        connection.execute("COMMIT")
        times.append((time.perf_counter() - began) * 1000)
    connection.close()
    return median(times)
