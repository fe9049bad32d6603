"""By ear: the sound under the frames, the hair in it, refusing a click, and taking one back."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from .conftest import cleaned, shot_film, truth_of


@pytest.fixture(scope="module")
def shot(tmp_path_factory):
    return shot_film(tmp_path_factory.mktemp("lane"), "by ear.mp4", 24, seed=21)


@pytest.fixture(scope="module")
def taken_in(trainer, shot):
    return trainer.settled(trainer.upload(shot)["id"])


@pytest.fixture
def film(trainer, taken_in):
    return cleaned(trainer, taken_in)


@pytest.fixture
def bench(bench_of, film):
    bench = bench_of(film)
    expect(bench.page.locator("[data-heard]").first).to_be_attached()
    return bench


@pytest.fixture
def edits(trainer, film):
    path = f"/api/sessions/{film['session_id']}/edits?after={film['after']}"
    return lambda: [e["body"] for e in trainer.ask("GET", path).json()["edits"]]


def markers(shot):
    return [e.t_us / 1e6 for e in truth_of(shot).events if e.kind == "marker"]


def next_click(bench):
    bench.page.keyboard.press("d")
    bench.settle()


def hair(page):
    return float(page.get_by_test_id("hair").get_attribute("data-s"))


@pytest.mark.long
def test_the_heard_onset_is_a_hair_and_the_marker_goes_there(bench, edits, shot):
    page, true = bench.page, markers(shot)
    next_click(bench)
    assert hair(page) == pytest.approx(true[0], abs=0.001)
    page.get_by_role("button", name="marker here").click()
    bench.wait_saved()
    (edit,) = edits()
    event = edit["event"]
    assert (event["source"], "frame" in event) == ("audio", False)
    # The mark says: it lies in the stretch that ends at its time.
    assert event["t"] - event["width"] <= true[0] + 0.0005 <= event["t"] + 0.0005


@pytest.mark.long
def test_the_hair_lies_on_the_strips_own_time_axis(bench, shot):
    """A click in the interval after a frame is drawn under that frame's picture."""
    page = bench.page
    next_click(bench)
    at = page.get_by_test_id("hair").bounding_box()
    frames = page.locator("button[data-frame]")
    boxes = {int(f.get_attribute("data-frame")): f.bounding_box() for f in frames.all()}
    over = [n for n, box in boxes.items() if box["x"] - 2 <= at["x"] <= box["x"] + box["width"] + 4]
    assert int(hair(page) * 30) in over


@pytest.mark.long
def test_one_points_and_steps_by_the_millisecond_and_moves_the_marker(bench, edits, shot):
    page = bench.page
    next_click(bench)
    page.get_by_role("button", name="marker here").click()
    lane = page.get_by_role("slider", name="Instant by ear")
    box = lane.bounding_box()
    page.mouse.click(box["x"] + box["width"] * 0.75, box["y"] + 10)
    pointed = hair(page)
    lane.press("ArrowLeft")
    assert hair(page) == pytest.approx(pointed - 0.001, abs=1e-6)
    lane.press("Shift+ArrowRight")
    assert hair(page) == pytest.approx(pointed + 0.009, abs=1e-6)
    page.get_by_role("button", name="marker here").click()
    bench.wait_saved()
    first, second = edits()
    # The near marker is moved, and no second one is made.
    assert first["event"]["id"] == second["event"]["id"]
    assert second["event"]["t"] == pytest.approx(pointed + 0.009 + 0.001, abs=0.0002)


@pytest.mark.long
def test_a_tenth_of_a_second_is_heard_slowly(bench):
    page = bench.page
    page.evaluate("""() => {
      const play = HTMLMediaElement.prototype.play;
      HTMLMediaElement.prototype.play = function () {
        window.heard = { rate: this.playbackRate, from: this.currentTime, player: this };
        return play.call(this);
      };
    }""")
    next_click(bench)
    at = hair(page)
    page.get_by_role("button", name="▸ hear").click()
    page.wait_for_function("() => window.heard && window.heard.player.paused")
    said = page.evaluate(
        "() => ({ rate: heard.rate, from: heard.from, to: heard.player.currentTime })"
    )
    assert said["rate"] == 0.25
    assert said["from"] == pytest.approx(at - 0.05, abs=0.002)
    assert said["from"] < said["to"] < at + 0.2


@pytest.mark.long
def test_a_click_that_was_none_goes_and_comes_back_with_undo(bench, edits, shot):
    page, true = bench.page, markers(shot)
    expect(page.locator("[data-heard]")).to_have_count(len(true))
    next_click(bench)
    page.get_by_role("button", name="no click").click()
    bench.wait_saved()
    (edit,) = edits()
    (refused,) = edit["set"]["refused_clicks"]
    assert refused == pytest.approx(true[0], abs=0.002)
    expect(page.locator("[data-heard]")).to_have_count(len(true) - 1)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-heard]")).to_have_count(len(true))


@pytest.mark.long
def test_a_taken_click_that_nothing_else_sounds_like_is_offered_back(bench_of, trainer, tmp_path):
    """Somebody takes what else is heard in a yard for a click."""
    path = shot_film(tmp_path, "in a yard.mp4", 24, seed=21, clutter=0.6)
    film, true = trainer.settled(trainer.upload(path)["id"]), markers(path)
    ask = f"/api/films/{film['id']}/clicks"
    heard = trainer.ask("GET", ask).json()["clicks"]
    odd = [c["t_s"] for c in heard if all(abs(c["t_s"] - m) > 0.4 for m in true)]
    at = next(t for t in odd if trainer.ask("GET", f"{ask}?confirmed={t}").json()["alone_s"])
    bench = bench_of(film, t=f"{at:.6f}")
    page = bench.page
    page.get_by_label("Fewer or more heard clicks").press("End")
    page.get_by_role("button", name="take this click").click()
    said = page.get_by_text("Nothing else in this film sounds like the click at")
    expect(said).to_be_visible()
    page.get_by_role("button", name="take it back").click()
    expect(said).to_be_hidden()
    bench.wait_saved()


@pytest.mark.long
def test_the_strip_shows_the_region_one_has_zoomed_in_on(bench):
    page = bench.page
    next_click(bench)
    small = page.locator("button[data-frame] canvas").nth(4)
    whole = small.evaluate("c => c.toDataURL()")
    box = page.locator("canvas[role=img]").bounding_box()
    page.mouse.move(box["x"] + box["width"] * 0.8, box["y"] + box["height"] * 0.7)
    page.mouse.wheel(0, -500)
    page.wait_for_function(
        "old => document.querySelectorAll('button[data-frame] canvas')[4].toDataURL() !== old",
        arg=whole,
    )
    page.get_by_role("button", name="The whole picture").click()
    page.wait_for_function(
        "old => document.querySelectorAll('button[data-frame] canvas')[4].toDataURL() === old",
        arg=whole,
    )


@pytest.mark.long
def test_two_views_are_kept_and_come_back(bench, bench_of, film):
    """The animal and the hand: zoomed in once, and one press away from then on."""
    page = bench.page
    picture = page.locator("canvas[role=img]")
    expect(page.get_by_role("button", name="Keep this view")).to_have_count(0)
    box = picture.bounding_box()
    page.mouse.move(box["x"] + box["width"] * 0.8, box["y"] + box["height"] * 0.7)
    page.mouse.wheel(0, -500)
    page.get_by_role("button", name="Keep this view for the hand").click()
    hand = picture.evaluate("c => c.style.transform")
    assert "scale" in hand
    page.get_by_role("button", name="The whole picture").click()
    assert picture.evaluate("c => c.style.transform") == ""
    again = bench_of(film).page
    picture = again.locator("canvas[role=img]")
    again.get_by_role("button", name="To the hand").click()
    expect(again.get_by_role("button", name="To the hand")).to_have_attribute(
        "aria-pressed", "true"
    )
    assert picture.evaluate("c => c.style.transform") == hand
    # With Shift another view takes its place; the whole picture forgets it.
    again.get_by_role("button", name="The whole picture").click()
    again.get_by_role("button", name="To the hand").click(modifiers=["Shift"])
    expect(again.get_by_role("button", name="To the hand")).to_have_count(0)
