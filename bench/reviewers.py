"""Twenty reviewers at once, and one who imports: how long each edit waits for its answer.

Each has a session of 450 marks and makes two edits a second, as somebody coding quickly does.
"""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any

from tests.house import House, Trainer

from frequens.core import write_session

from .measuring import session

REVIEWERS, MARKS, EDITS_PER_S, LENGTH_S = 20, 450, 2.0, 20.0
#: The page waits so long before it asks for findings an answer did not bring, seconds.
LATER_S = 1.0
#: What 95 of 100 answers may take, and what an import may add to anybody's wait, milliseconds.
AIM_MS, IMPORT_MS, IMPORT_EVENTS, IMPORT_S = 300, 100, 10_000, 2.0


def run(folder: Path) -> Iterator[str]:
    home = folder / "reviewers"
    home.mkdir()
    with House(home) as house:
        house.add_trainer()
        trainer = house.start().trainer()
        document = write_session(session(MARKS))
        sessions = [
            trainer.ask("POST", "/api/sessions/import", json=document).json()["session_id"]
            for _ in range(REVIEWERS)
        ]
        reviewers = [_copy(trainer) for _ in sessions]
        _all(reviewers, sessions, length_s=3)  # what is imported on first use is not measured
        yield f"one reviewer: {_said(_all(reviewers[:1], sessions[:1], length_s=15).edits)}"
        many = _all(reviewers, sessions)
        yield (
            f"{REVIEWERS} reviewers at {EDITS_PER_S:g} edits a second: "
            f"{len(many.edits) / LENGTH_S:.0f} edits a second, "
            f"{_said(many.edits)} (aim 95 % within {AIM_MS})"
        )
        yield f"    findings there after the mark: {_said(many.findings)}"
        few = reviewers[:2], sessions[:2]
        calm = _all(*few, length_s=15).edits
        busy, spent = _while_importing(*few, trainer)
        yield f"two reviewers: {_said(calm)}, at most {max(calm):.0f} ms"
        yield (
            f"the same while {IMPORT_EVENTS} events are imported, each {spent:.2f} s "
            f"(aim {IMPORT_S:g}): {_said(busy)}, at most {max(busy):.0f} ms "
            f"({max(busy) - max(calm):+.0f}, aim +{IMPORT_MS})"
        )


def _copy(trainer: Trainer) -> Trainer:
    """The same login on a connection of its own."""
    other = Trainer.__new__(Trainer)
    Trainer.__bases__[0].__init__(other)
    other.url = trainer.url
    other.cookies.update(trainer.cookies)
    return other


def _edit(
    trainer: Trainer, session_id: str, number: int, findings: bool = True
) -> tuple[float, bool]:
    """Milliseconds until a mark is answered, and whether the answer brought the findings."""
    event = {"id": f"bench-{number}", "kind": "note", "t": 3.0 + number % 40, "text": "x"}
    edit = {"client_id": f"{session_id}-{number}", "body": {"op": "put", "event": event}}
    body = {"edits": [edit], "after": 10**9, "findings": True}
    began = time.perf_counter()
    answer = trainer.ask("POST", f"/api/sessions/{session_id}/edits", json=body)
    spent = (time.perf_counter() - began) * 1000
    assert answer.status_code == 200, answer.text
    said = answer.json()
    assert said["taken"] == [edit["client_id"]]
    return spent, said["findings"] is not None


@dataclass
class Times:
    """Milliseconds from a mark to its answer, and to findings in which it is."""

    edits: list[float] = field(default_factory=list)
    findings: list[float] = field(default_factory=list)


def _all(reviewers: list[Trainer], sessions: list[str], length_s: float = LENGTH_S) -> Times:
    """All at once, as their pages do it: what an answer does not bring is asked for later."""
    times = Times()
    start = time.perf_counter()

    def review(place: int) -> None:
        trainer, session_id = reviewers[place], sessions[place]
        marked_at: float | None = None
        for number in range(int(length_s * EDITS_PER_S)):
            due = start + (number + place / len(reviewers)) / EDITS_PER_S
            time.sleep(max(0.0, due - time.perf_counter()))
            if marked_at is not None and time.perf_counter() - marked_at > LATER_S:
                found = trainer.ask("GET", f"/api/sessions/{session_id}/findings")
                assert found.status_code == 200, found.text
                times.findings.append((time.perf_counter() - marked_at) * 1000)
                marked_at = None
            began = time.perf_counter()
            spent, is_measured = _edit(trainer, session_id, int(start) * 1000 + number)
            times.edits.append(spent)
            if is_measured:
                times.findings.append(spent)
                marked_at = None
            elif marked_at is None:
                marked_at = began

    threads = [threading.Thread(target=review, args=(n,)) for n in range(len(reviewers))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return times


def _while_importing(
    reviewers: list[Trainer], sessions: list[str], trainer: Trainer
) -> tuple[list[float], float]:
    """Answers while files are imported one after another, and what one import took."""
    text = json.dumps(write_session(session(IMPORT_EVENTS)))
    imports: list[float] = []
    stop = threading.Event()

    def work() -> None:
        while not stop.is_set():
            began = time.perf_counter()
            answer: Any = trainer.ask("POST", "/api/sessions/import", data=text)
            assert answer.status_code == 201, answer.text
            imports.append(time.perf_counter() - began)

    thread = threading.Thread(target=work)
    thread.start()
    times = _all(reviewers, sessions, length_s=15).edits
    stop.set()
    thread.join()
    return times, median(imports)


def _said(times: list[float]) -> str:
    times = sorted(times)
    return f"median {median(times):.0f} ms, 95 % within {times[int(0.95 * len(times))]:.0f} ms"
