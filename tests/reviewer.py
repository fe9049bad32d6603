"""A reviewer who knows the truth of a simulated film and codes it at the real bench.

Every key, click and touch goes through the page like anybody's and is counted.
"""

from __future__ import annotations

import re
import time
from typing import Any, Literal

from playwright.sync_api import Locator, Page

from frequens.core import SessionRecord
from frequens.media.decode.frames import FrameIndex

Hand = Literal["keyboard", "mouse", "touch"]
KEYS = {"onset": "b", "offset": "e", "marker": "m", "reward": "r", "reach": "h"}
BUTTONS = {
    "onset": "b behaviour begins",
    "offset": "e ends",
    "marker": "m marker",
    "reward": "r reward",
    "reach": "h hand moves",
}
#: In the passes: from seeing to pressing, seconds. What the reviewer is slow by, and even so.
LAG_S = 0.25
STRIP = """() =>
  Array.from(document.querySelectorAll('button[data-frame]'), b => b.dataset.frame)"""
READ_FRAME = "() => Number(document.querySelector('[data-testid=frame]').textContent)"
SETTLED = """() => {
  const shown = document.querySelector('canvas[role=img]')?.dataset.frame;
  const strip = document.querySelector('[data-frame][aria-current=true]');
  return shown !== undefined && strip && strip.dataset.frame === shown
    && document.querySelector('[data-testid=frame]')?.textContent === shown;
}"""


class Reviewer:
    """Codes with one kind of hand; `presses` counts keys, clicks and touches."""

    def __init__(self, page: Page, truth: SessionRecord, index: FrameIndex, hand: Hand = "mouse"):
        self.page, self.truth, self.index, self.hand = page, truth, index, hand
        self.presses = 0
        self.frames = {e.id: index.first_after(e.t_us) for e in truth.events}

    # -- hands ------------------------------------------------------------------------

    def key(self, key: str) -> None:
        assert self.hand != "touch", "a touching reviewer has no keyboard"
        self.presses += 1
        self.page.keyboard.press(key)

    def press(self, place: Locator) -> None:
        self.presses += 1
        if self.hand == "touch":
            place.tap()
        else:
            place.click()

    def settle(self) -> int:
        self.page.wait_for_function(SETTLED)
        return int(self.page.evaluate(READ_FRAME))

    def go(self, frame: int) -> None:
        """To a frame: with the arrow keys, or by the ribbon and then the strip."""
        if self.hand == "keyboard":
            away = frame - self.settle()
            arrow = "ArrowRight" if away > 0 else "ArrowLeft"
            for _ in range(abs(away) // 10):
                self.key(f"Shift+{arrow}")
            for _ in range(abs(away) % 10):
                self.key(arrow)
        else:
            if abs(frame - self.settle()) > 13:
                self._along_the_ribbon(frame)
            while self.settle() != frame:
                self._along_the_strip(frame)
        assert self.settle() == frame

    def _along_the_ribbon(self, frame: int) -> None:
        ribbon = self.page.get_by_role("slider", name="Session ribbon")
        box = ribbon.bounding_box()
        assert box is not None
        middle_us = self.index.times_us[frame] + self.index.nominal_us / 2
        x = box["width"] * middle_us / self.index.duration_us
        self.presses += 1
        if self.hand == "touch":
            ribbon.tap(position={"x": x, "y": 30})
        else:
            ribbon.click(position={"x": x, "y": 30})

    def _along_the_strip(self, frame: int) -> None:
        shown = [int(f) for f in self.page.evaluate(STRIP)]
        nearest = min(shown, key=lambda f: abs(f - frame))
        self.press(self.page.locator(f"button[data-frame='{nearest}']"))

    # -- coding mark by mark ----------------------------------------------------------

    def code(self, kinds: tuple[str, ...] = ("onset", "offset", "marker", "reward")) -> None:
        """Every true mark of these kinds on the first frame that shows it; every rep judged."""
        for event in sorted(self.truth.events, key=lambda e: self.frames[e.id]):
            if event.kind == "criterion" and "criterion" in kinds:
                self.go(self.frames[event.id])
                self._begin_step(event.approximation)
            if event.kind not in kinds or event.kind == "criterion":
                continue
            self.go(self.frames[event.id])
            if self.hand == "keyboard":
                self.key(KEYS[event.kind])
            else:
                self.press(self.page.get_by_role("button", name=BUTTONS[event.kind], exact=True))
            if event.kind == "onset":
                self._judge(bool(event.met))

    def _begin_step(self, step: str | None) -> None:
        keys = [a.key for a in self.truth.plan.approximations]
        place = keys.index(step or "")
        if self.hand == "keyboard":
            self.key(str(place + 1))
        else:
            self.press(
                self.page.get_by_role("toolbar", name="Steps").get_by_role("button").nth(place)
            )

    def _judge(self, met: bool) -> None:
        for _ in range(1 if met else 2):
            if self.hand == "keyboard":
                self.key("f")
            else:
                judge = self.page.get_by_role("toolbar", name="Marks")
                self.press(judge.get_by_role("button", name=re.compile("^f ")))

    # -- the two passes ---------------------------------------------------------------

    def fits_until_said_otherwise(self) -> None:
        self.press(self.page.get_by_role("button", name="What holds until it is changed"))
        self.press(self.page.get_by_label("a new rep fits, until I judge it otherwise"))
        self.page.keyboard.press("Escape")
        self.presses += 1

    def take_all_clicks(self) -> None:
        self.press(self.page.get_by_role("button", name=re.compile("^take all [1-9]")))

    def tap_as_it_happens(self, kinds: tuple[str, ...]) -> float:
        """Play the film and press each key when its mark is seen, a quarter second late.

        Returns how much later than that the latest press came, seconds of the film: a machine
        with other work to do may hold any of them up.
        """
        latest = 0.0
        due = sorted(
            (e.t_us / 1e6 + LAG_S, KEYS[e.kind]) for e in self.truth.events if e.kind in kinds
        )
        for e in self.truth.events:
            if e.kind == "onset" and "onset" in kinds and not e.met:
                due.append((e.t_us / 1e6 + LAG_S + 0.15, "f"))
        due.sort()
        self.key("Space")
        clock = "() => document.querySelector('video').currentTime"
        while due:
            now = self.page.evaluate(clock)
            while due and now >= due[0][0]:
                at, key = due.pop(0)
                self.key(key)
                latest = max(latest, self.page.evaluate(clock) - at)
            time.sleep(0.01)
        self.key("Space")
        self.settle()
        return latest

    def fix_all(self, most: int = 400) -> None:
        """Walk through the fix pass, pointing at the true frame each time it asks."""
        waits = self.page.get_by_role("button", name=re.compile(r"^x fix [1-9]"))
        self.press(waits)
        row = self.page.get_by_role("group", name="Fix pass")
        for _ in range(most):
            if row.count() == 0:
                return
            here = self.settle()
            words = row.get_by_role("status").inner_text()
            frame = self._true_frame(words, here)
            if frame is None:
                self.press(row.get_by_role("button", name="skip"))
            else:
                self._point(frame)
            self.page.wait_for_timeout(150)
        raise AssertionError("the fix pass does not end")

    def _true_frame(self, words: str, here: int) -> int | None:
        """The true frame of what is asked for nearest to where one is led."""
        kind = (
            "reward" if "reward" in words else "offset" if "ends" in words
            else "marker" if "does marker" in words else "onset"
        )  # fmt: skip
        near = [
            self.frames[e.id]
            for e in self.truth.events
            if e.kind == kind and abs(self.frames[e.id] - here) < 45
        ]
        return min(near, key=lambda f: abs(f - here), default=None)

    def _point(self, frame: int) -> None:
        """Point at a frame; while it is out of the strip's sight, step towards it."""
        while self.page.locator(f"button[data-frame='{frame}']").count() == 0:
            here = self.settle()
            self.key("Shift+ArrowRight" if frame > here else "Shift+ArrowLeft")
        self.press(self.page.locator(f"button[data-frame='{frame}']"))


def agree(found: dict[str, Any], real: dict[str, Any]) -> list[tuple[float, float]]:
    """Errors of every latency of matching reps, each with its stated uncertainty.

    Raises AssertionError where reps, marks or judgements differ.
    """
    assert len(found["reps"]) == len(real["reps"]), (len(found["reps"]), len(real["reps"]))
    errors = []
    for one, other in zip(found["reps"], real["reps"], strict=True):
        assert one["met"] == other["met"], (one, other)
        for key in ("marker_latency_s", "reward_latency_s"):
            assert (one[key] is None) == (other[key] is None), (key, one, other)
            if other[key] is not None:
                errors.append((one[key] - other[key], one["uncertainty_s"]))
    return errors
