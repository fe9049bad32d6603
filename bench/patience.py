"""Slow clients by the hundred: what an ordinary answer takes meanwhile."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from tests.house import House, Trainer
from tests.slow_clients import KINDS, slow_clients

from frequens.simulator.camera import FilmOptions, script_session, shoot

EACH, ASKED = 200, 150


def run(folder: Path) -> Iterator[str]:
    film = folder / "patience.mp4"
    shoot(script_session(20, seed=4), film, FilmOptions(width=1280, height=720, noise=0.2))
    home = folder / "patience"
    home.mkdir()
    with House(home) as house:
        house.add_trainer()
        trainer = house.start().trainer()
        taken = trainer.settled(trainer.upload(film)["id"])
        large = f"/api/films/{taken['id']}/original"
        cookie = "; ".join(f"{c.name}={c.value}" for c in trainer.cookies)
        _median(trainer)
        calm = _median(trainer)
        yield f"nobody else: median {calm:.1f} ms"
        for kind in KINDS:
            with slow_clients(house.url, kind, EACH, cookie, large):
                yield _told(f"{EACH} slow ({kind})", _median(trainer), calm)
        with contextlib.ExitStack() as all_kinds:
            for kind in KINDS:
                all_kinds.enter_context(slow_clients(house.url, kind, EACH, cookie, large))
            yield _told(f"{EACH} of each kind at once", _median(trainer), calm)


def _median(trainer: Trainer) -> float:
    times = []
    for _ in range(ASKED):
        began = time.perf_counter()
        answer = trainer.ask("GET", "/api/sessions")
        assert answer.status_code == 200
        times.append((time.perf_counter() - began) * 1000)
    return median(times)


def _told(name: str, now: float, calm: float) -> str:
    return f"{name}: median {now:.1f} ms, {now / calm:.2f} times (aim 2)"
