"""Every page of ten sessions with 300 reps each: the server's answer, and when it is seen."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from statistics import median
from typing import Any

from playwright.sync_api import Page, sync_playwright
from tests.browser.conftest import log_in
from tests.house import CHROMIUM, CHROMIUM_ARGUMENTS, House, Trainer

from frequens.core import write_session

from .measuring import session

SESSIONS, REPS, ROUNDS = 10, 300, 7
#: What the answer may take, and what it may take until the page shows it, milliseconds.
ANSWER_MS, SHOWN_MS = 300, 1000


def run(folder: Path) -> Iterator[str]:
    home = folder / "pages"
    home.mkdir()
    with House(home) as house:
        house.add_trainer()
        trainer = house.start().trainer()
        behaviour, sessions = _fill(trainer)
        last = sessions[-1]
        answers = {
            "today": "/api/today",
            "logbook": f"/api/logbook/{behaviour}",
            "findings": f"/api/sessions/{last}/findings",
            "next session": f"/api/plans/next/{last}",
            "plan": f"/api/behaviours/{behaviour}",
            "sessions": "/api/sessions",
            "report (page)": f"/api/sessions/{last}/report.html",
            "report (PDF)": f"/api/sessions/{last}/report.pdf",
            "tables": f"/api/sessions/{last}/tables.xlsx",
        }
        for name, path in answers.items():
            first, *times = (answer_ms(trainer, path) for _ in range(ROUNDS + 1))
            yield (
                f"{name:>14}: answered in {median(times):.0f} ms (aim {ANSWER_MS}), "
                f"the first time in {first:.0f} ms"
            )
        yield from _shown(house, behaviour, last)


def _fill(trainer: Trainer) -> tuple[str, list[str]]:
    """Ten sessions of 300 reps under one plan."""
    learner = trainer.ask("POST", "/api/learners", json={"name": "Thistle"}).json()
    body = {"learner_id": learner["id"], "starter": "bell"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()["id"]
    sessions = []
    for number in range(SESSIONS):
        document: dict[str, Any] = write_session(session(4 * REPS))
        document["session"]["date"] = f"2026-05-{number + 4:02d}"
        steps = ("look", "nose", "mouth")
        for place, event in enumerate(document["events"]):
            if event["kind"] == "onset":
                event["approximation"] = steps[3 * place // len(document["events"])]
        made = trainer.ask("POST", "/api/sessions/import", json=document).json()["session_id"]
        path = f"/api/behaviours/{behaviour}/sessions"
        trainer.ask("POST", path, json={"session_id": made})
        sessions.append(made)
    return behaviour, sessions


def answer_ms(trainer: Trainer, path: str) -> float:
    began = time.perf_counter()
    answer = trainer.ask("GET", path)
    assert answer.status_code == 200, answer.text
    return (time.perf_counter() - began) * 1000


def _shown(house: House, behaviour: str, last: str) -> Iterator[str]:
    """From the address to the main heading and the last part of the page on the screen."""
    pages = {
        "today": ("/", "main h2"),
        "logbook": (f"/logbook/{behaviour}", "[data-session] >> nth=-1"),
        "findings": (f"/sessions/{last}/findings", "#reps tbody tr >> nth=-1"),
        "next session": (f"/sessions/{last}/next", "text=Stop"),
        "plan": (f"/plans/{behaviour}", "[data-step] >> nth=-1"),
        "plans": ("/plans", "h1"),
        "films": ("/films", "h1"),
        "report": (f"/sessions/{last}/report", "iframe"),
    }
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        log_in(page, house.url)
        for name, (path, last_part) in pages.items():
            first, *times = (_time_to(page, house.url + path, last_part) for _ in range(ROUNDS + 1))
            yield (
                f"{name:>14}: shown whole in {median(times):.0f} ms (aim {SHOWN_MS}), "
                f"the first time in {first:.0f} ms"
            )
        browser.close()


def _time_to(page: Page, url: str, last_part: str) -> float:
    page.goto("about:blank")
    began = time.perf_counter()
    page.goto(url, wait_until="commit")
    page.locator(last_part).first.wait_for(state="attached")
    page.evaluate("() => new Promise(done => requestAnimationFrame(() => setTimeout(done)))")
    return (time.perf_counter() - began) * 1000
