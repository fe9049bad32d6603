"""Stepping at the bench: from the key to the frame on the canvas, 1080p review copy."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from statistics import quantiles

from playwright.sync_api import Page, sync_playwright
from tests.house import CHROMIUM, CHROMIUM_ARGUMENTS, PASSWORD, TRAINER, House

from .films import clip

STEPS = 150
DISPLAY_FRAME_MS, AIM_MS = 1000 / 60, 33.0
WATCH = """() => {
  const canvas = document.querySelector('canvas[role=img]');
  window.steps = []; let pressed = null;
  window.addEventListener('keydown', () => { pressed = performance.now(); }, true);
  new MutationObserver(() => {
    if (pressed !== null) { window.steps.push(performance.now() - pressed); pressed = null; }
  }).observe(canvas, {attributes: true, attributeFilter: ['data-frame']});
}"""


def run(folder: Path) -> Iterator[str]:
    home = folder / "home"
    home.mkdir()
    house = House(home, FREQUENS_REVIEW_LINES="1080")
    house.add_trainer()
    house.start()
    try:
        film = house.trainer()
        ready = film.settled(film.upload(clip(folder))["id"], timeout_s=300)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_ARGUMENTS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            yield from _measure(page, house.url, ready["session_id"])
            browser.close()
    finally:
        house.kill()


def _measure(page: Page, url: str, session_id: str) -> Iterator[str]:
    page.goto(f"{url}/login")
    page.get_by_label("Name").fill(TRAINER)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Log in").click()
    page.get_by_role("navigation", name="Main").wait_for()
    for way, words in (("window", "decoded window"), ("video", "video element")):
        page.goto(f"{url}/sessions/{session_id}/bench?t=4&frames={way}")
        page.wait_for_function("() => document.querySelector('canvas[role=img]')?.dataset.frame")
        page.wait_for_timeout(2500)
        page.evaluate(WATCH)
        for key, count in (("ArrowRight", STEPS), ("ArrowLeft", STEPS)):
            for _ in range(count):
                page.keyboard.press(key)
                page.wait_for_timeout(60)
        times = page.evaluate("() => window.steps")
        cuts = quantiles(times, n=100)
        yield (
            f"{words}: {len(times)} of {2 * STEPS} steps, median {cuts[49]:.1f} ms, "
            f"95 % within {cuts[94]:.1f} ms (aim {AIM_MS:g}); "
            f"{sum(t <= DISPLAY_FRAME_MS for t in times) / len(times):.0%} within one display frame"
        )
