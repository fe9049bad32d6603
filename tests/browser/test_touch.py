"""Fingers on the bench: two zoom, one steps, and a rep is coded by thumb alone."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from tests.house import PATIENCE_S

from .conftest import Bench, cleaned, coded_film

pytestmark = pytest.mark.long
SCREENS = {"phone": (390, 844), "tablet": (820, 1180)}


@pytest.fixture(scope="module")
def house(own_house):
    return own_house


@pytest.fixture(scope="module")
def taken_in(trainer, shot_bell):
    return coded_film(trainer, shot_bell)


@pytest.fixture(params=SCREENS)
def screen(request, browser, state, house, taken_in, trainer):
    """A bench under fingers, at two seconds of a film with nothing coded."""
    width, height = SCREENS[request.param]
    context = browser.new_context(
        viewport={"width": width, "height": height},
        has_touch=True,
        is_mobile=True,
        storage_state=state,
    )
    context.set_default_timeout(1000 * PATIENCE_S)
    yield Hands(Bench(context.new_page(), house.url, cleaned(trainer, taken_in)["session_id"], t=2))
    context.close()


class Hands:
    """Fingers as the browser itself reports them."""

    def __init__(self, bench):
        self.bench, self.page = bench, bench.page
        self.cdp = self.page.context.new_cdp_session(self.page)

    def touch(self, kind, *points):
        said = [{"x": x, "y": y, "id": n} for n, (x, y) in enumerate(points)]
        self.cdp.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": said})

    def drag(self, start, by, steps=10):
        (x, y), (dx, dy) = start, by
        self.touch("touchStart", (x, y))
        for n in range(1, steps + 1):
            self.touch("touchMove", (x + dx * n / steps, y + dy * n / steps))
        self.touch("touchEnd")

    def spread(self, middle, start, end, steps=8):
        x, y = middle
        apart = [start + (end - start) * n / steps for n in range(steps + 1)]
        self.touch("touchStart", (x - apart[0], y), (x + apart[0], y))
        for half in apart[1:]:
            self.touch("touchMove", (x - half, y), (x + half, y))
        self.touch("touchEnd")

    @property
    def picture(self):
        box = self.bench.canvas.bounding_box()
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    @property
    def strip(self):
        box = self.page.locator("button[data-frame][aria-current=true]").bounding_box()
        return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def shift(self):
        return self.bench.canvas.evaluate("c => new DOMMatrix(getComputedStyle(c).transform)")


def test_one_finger_steps_through_the_film(screen):
    assert screen.bench.frame == 60
    screen.drag(screen.picture, (-140, 0))
    assert screen.bench.settle() == 70
    screen.drag(screen.picture, (70, 0))
    assert screen.bench.settle() == 65
    # On the strip a frame goes along with the finger.
    cell = screen.page.locator("button[data-frame]").first.bounding_box()["width"]
    screen.drag(screen.strip, (-2.5 * cell, 0))
    assert screen.bench.settle() in (67, 68)
    assert screen.bench.painted() == screen.bench.frame


def test_a_touch_is_no_step(screen):
    screen.drag(screen.picture, (-7, 3), steps=2)
    assert screen.bench.settle() == 60
    screen.page.locator("button[data-frame]").last.tap()
    assert screen.bench.settle() > 60


def test_a_mouse_after_a_finger_presses_at_once(screen):
    cell = screen.page.locator("button[data-frame]").first.bounding_box()["width"]
    screen.drag(screen.strip, (-cell, 0))
    before = screen.bench.settle()
    last = screen.page.locator("button[data-frame]").last
    frame = int(last.get_attribute("data-frame"))
    last.click()
    assert screen.bench.settle() == frame > before


def test_up_and_down_the_page_scrolls(screen):
    screen.page.evaluate("document.body.style.minHeight = '300vh'")
    screen.drag(screen.picture, (0, -150))
    screen.page.wait_for_function("scrollY > 50")
    assert screen.bench.settle() == 60


def test_two_fingers_zoom_where_they_are_and_one_moves_it_then(screen):
    screen.spread(screen.picture, 20, 60)
    whole = screen.page.get_by_role("button", name="The whole picture")
    expect(whole).to_have_text("3.0×")
    assert screen.bench.frame == 60
    # What lies between them stays there.
    assert screen.shift()["e"] == pytest.approx(0, abs=1)
    x, y = screen.picture
    before = screen.shift()
    screen.drag((x, y), (-50, -20))
    after = screen.shift()
    assert after["e"] - before["e"] == pytest.approx(-50, abs=8)
    assert after["f"] - before["f"] == pytest.approx(-20, abs=8)
    assert screen.bench.frame == 60
    screen.spread((x, y), 60, 15)
    expect(whole).to_have_count(0)
    screen.drag(screen.picture, (-140, 0))
    assert screen.bench.settle() == 70


def test_a_rep_by_thumb_alone(screen, trainer, taken_in):
    marks = screen.page.get_by_role("toolbar", name="Marks")
    said = screen.page.locator("[data-saving]")
    steps = (("behaviour begins", -42), ("marker", -140), ("reward", -280))
    for n, (name, px) in enumerate(steps, start=1):
        frame = screen.bench.frame - px // 14
        screen.drag(screen.picture, (px, 0))
        expect(screen.page.get_by_test_id("frame")).to_have_text(str(frame))
        screen.bench.settle()
        marks.get_by_role("button", name=f" {name}").tap()
        # Whoever moves on before the picture is there has marked nothing.
        expect(said).to_contain_text(f"{n} mark")
    expect(screen.bench.reps).to_have_count(1)
    marks.get_by_role("button", name="fits").tap()
    screen.bench.wait_saved()
    path = f"/api/sessions/{taken_in['session_id']}/findings"
    [rep] = trainer.ask("GET", path).json()["findings"]["reps"]
    assert (rep["onset_s"], rep["met"]) == (pytest.approx(63 / 30, abs=1e-4), True)
    assert rep["marker_latency_s"] == pytest.approx(10 / 30, abs=1e-4)
    assert rep["reward_latency_s"] == pytest.approx(20 / 30, abs=1e-4)
