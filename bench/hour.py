"""An hour of 1080p60: until its first exact frame can be seen, and what the page then takes."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Page, sync_playwright
from tests.browser.conftest import log_in
from tests.house import CHROMIUM, CHROMIUM_ARGUMENTS, House, Trainer

from frequens.media.decode.frames import index_frames
from frequens.media.ingest.review import make_review_copy

from .films import CLIP_S, clip, long_film, repeat

TURNS, OTHERS = 3600 // CLIP_S, 10
#: Seconds until the first frame after the last byte, and the page's memory, MB.
FIRST_S, PAGE_MB = 2.0, 500
PAINTED = "() => document.querySelector('canvas[role=img]')?.dataset.frame !== undefined"
EXACT = "() => document.querySelector('[data-testid=readout]')?.dataset.certain === 'true'"


def run(folder: Path) -> Iterator[str]:
    home = folder / "hour"
    home.mkdir()
    film, other = long_film(folder, TURNS), long_film(folder, 6)
    with House(home) as house, sync_playwright() as playwright:
        house.add_trainer()
        trainer = house.start().trainer()
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        log_in(page, house.url)
        # What is loaded on first use is not measured.
        _first_frame(page, house, trainer, clip(folder), at_s=3)
        alone, sent = _first_frame(page, house, trainer, film)
        yield f"alone: first exact frame {alone:.1f} s after the last byte (aim {FIRST_S:g})"
        trainer.ask("DELETE", f"/api/films/{sent['id']}")
        for _ in range(OTHERS):
            trainer.upload(other)
        busy, sent = _first_frame(page, house, trainer, film)
        yield f"behind {OTHERS} films of a minute: {busy:.1f} s, {busy / alone:.1f} times"
        for made in trainer.ask("GET", "/api/films").json():
            trainer.ask("POST", f"/api/films/{made['id']}/cancel")
        _put_copy(house, home, sent["id"], folder)
        yield from _memory(browser, page, house, sent["session_id"])


def _first_frame(
    page: Page, house: House, trainer: Trainer, film: Path, at_s: int = 1800
) -> tuple[float, dict[str, Any]]:
    """Seconds from the last byte to an exact frame on the canvas, and the film."""
    sent = trainer.upload(film)
    began = time.monotonic()
    while not (found := trainer.film(sent["id"]))["usable"]:
        time.sleep(0.05)
    page.goto(f"{house.url}/sessions/{found['session_id']}/bench?t={at_s}")
    page.wait_for_function(PAINTED)
    page.wait_for_function(EXACT)
    return time.monotonic() - began, found


def _put_copy(house: House, home: Path, film_id: str, folder: Path) -> None:
    """The copy of an hour takes longer than an hour here: it is put together from the clip's."""
    short = folder / "clip-copy.mp4"
    make_review_copy(clip(folder), short, index_frames(clip(folder)), 0)
    copy = next(home.glob(f"**/*{film_id}*")) / "review.mp4"
    repeat(short, copy, TURNS)
    house.manage(
        "shell",
        "-c",
        "from frequens.server.library.models import Film, Stage; "
        f"film = Film.objects.get(pk='{film_id}'); "
        "film.stages.filter(name='review').update(state='done'); "
        "film.state = 'ready'; film.save()",
    )


def _memory(browser: Browser, page: Page, house: House, session_id: str) -> Iterator[str]:
    page.goto(f"{house.url}/sessions/{session_id}/bench?t=1800")
    page.wait_for_function(PAINTED)
    page.wait_for_timeout(3000)
    way = page.evaluate("() => document.querySelector('video') !== null")
    yield f"copy used: {way}; opened: {_renderer_mb(browser)} MB (aim {PAGE_MB})"
    ribbon = page.get_by_role("slider", name="Session ribbon").bounding_box()
    assert ribbon is not None
    for place in range(20):
        page.mouse.click(ribbon["x"] + (place + 0.5) / 20 * ribbon["width"], ribbon["y"] + 20)
        page.wait_for_function(EXACT)
        for _ in range(30):
            page.keyboard.press("ArrowRight")
    page.wait_for_function(EXACT)
    yield f"after 20 places and 600 steps: {_renderer_mb(browser)} MB"
    page.keyboard.press("Space")
    page.wait_for_timeout(15_000)
    page.keyboard.press("Space")
    yield f"after playing for 15 s: {_renderer_mb(browser)} MB"


def _renderer_mb(browser: Browser) -> int:
    """What the pages' processes hold of memory that is theirs alone, megabytes."""
    told = browser.new_browser_cdp_session().send("SystemInfo.getProcessInfo")
    pids = [p["id"] for p in told["processInfo"] if p["type"] == "renderer"]
    return max(_private_mb(pid) for pid in pids)


def _private_mb(pid: int) -> int:
    rollup = Path(f"/proc/{pid}/smaps_rollup").read_text()
    lines = dict(line.split(":", 1) for line in rollup.splitlines()[1:])
    return sum(int(lines[k].split()[0]) for k in ("Private_Dirty", "Private_Clean")) // 1000
