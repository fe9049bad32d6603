"""The judgement over a long history, and Today over many behaviours."""

from __future__ import annotations

import datetime as dt
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median
from typing import Any

from tests.core.training_days import Day, digest_of, plan_of
from tests.house import House, Trainer

from frequens.core import read_session
from frequens.core.decisions.judging import Digest, judge

from .pages import answer_ms

HISTORY, A_DAY, ROUNDS = 500, (1, 5, 40), 20
BEHAVIOURS, SESSIONS, REPS, ASKED = 4, 200, 12, 9
#: What may be spent on a judgement, and on Today, milliseconds.
JUDGED_MS, TODAY_MS = 50, 100
PLAN = plan_of("look", "nose", "mouth")


def run(folder: Path) -> Iterator[str]:
    for a_day in A_DAY:
        yield from _judged(a_day)
    yield from _today(folder)


def _session(n: int, reps: int = REPS) -> Day:
    """A day on which it mostly fits, another step every third of the history."""
    pattern = "".join("-" if (7 * n + 3 * k) % 5 == 0 else "+" for k in range(reps))
    return Day(PLAN, n).at(("look", "nose", "mouth")[n % 3]).mixed(pattern)


def _judged(a_day: int) -> Iterator[str]:
    digests = [digest_of(_session(n // a_day + 1)) for n in range(HISTORY)]
    plan = read_session(_session(1).document()).plan
    plain = [digest.as_plain_values() for digest in digests]
    read = median(_ms(lambda: [Digest.read(one) for one in plain]) for _ in range(ROUNDS))
    spent = median(_ms(lambda: judge(digests, plan)) for _ in range(ROUNDS))
    yield (
        f"{HISTORY} sessions, {a_day} a day: judged in {spent:.1f} ms (aim {JUDGED_MS}), "
        f"read in {read:.1f} ms"
    )


def _ms(work: Any) -> float:
    began = time.perf_counter()
    work()
    return (time.perf_counter() - began) * 1000


def _today(folder: Path) -> Iterator[str]:
    home = folder / "judging"
    home.mkdir()
    with House(home) as house:
        house.add_trainer()
        trainer = house.start().trainer()
        for _ in range(BEHAVIOURS):
            _fill(trainer)
        first, *times = (answer_ms(trainer, "/api/today") for _ in range(ASKED + 1))
        yield (
            f"today, {BEHAVIOURS} behaviours of {SESSIONS} sessions: {median(times):.0f} ms "
            f"(aim {TODAY_MS}), the first time in {first:.0f} ms"
        )


def _fill(trainer: Trainer) -> None:
    learner = trainer.ask("POST", "/api/learners", json={"name": "Thistle"}).json()
    body = {"learner_id": learner["id"], "starter": "bell"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()["id"]
    last = dt.date.today()
    for n in range(SESSIONS):
        document = _session(n).document()
        document["session"]["date"] = (last - dt.timedelta(days=SESSIONS - n)).isoformat()
        made = trainer.ask("POST", "/api/sessions/import", json=document).json()["session_id"]
        path = f"/api/behaviours/{behaviour}/sessions"
        trainer.ask("POST", path, json={"session_id": made})
