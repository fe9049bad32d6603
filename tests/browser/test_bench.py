"""Coding at the bench: by keys and by mouse, undone and redone, and never lost."""

from __future__ import annotations

import re
import time

import pytest
from playwright.sync_api import expect

from tests.long import few

from .conftest import Bench, cleaned, code_truth, log_in, shot_film


@pytest.fixture
def film(trainer, shared_short):
    return cleaned(trainer, shared_short)


@pytest.fixture
def bench(bench_of, film):
    return bench_of(film)


def findings(trainer, film):
    return trainer.ask("GET", f"/api/sessions/{film['session_id']}/findings").json()["findings"]


def one_rep(bench, onset=30, marker=39, reward=70):
    for frame, key in ((onset, "b"), (marker, "m"), (reward, "r")):
        bench.go(frame)
        bench.page.keyboard.press(key)


def test_a_rep_by_keyboard_shows_its_latencies(bench, trainer, film):
    one_rep(bench)
    expect(bench.reps).to_have_count(1)
    expect(bench.reps).to_have_attribute(
        "aria-label", "Rep 1, marker +0.300 s, reward +1.033 s after it"
    )
    readout = bench.page.get_by_test_id("readout")
    expect(readout).to_contain_text("+1.333 s")
    expect(readout).to_contain_text("after it begins, rep 1")
    bench.wait_saved()
    (rep,) = findings(trainer, film)["reps"]
    assert rep["marker_latency_s"] == pytest.approx(0.3)


@pytest.mark.long
def test_a_film_that_cannot_be_brought_just_now_is_asked_for_again(context, film, house):
    """The page asks by itself, longer than one request is tried, and opens once it can."""
    page, asked = context.new_page(), []
    fault = "The store of the films does not answer."

    def busy(route):
        asked.append(route)
        if len(asked) > 7:
            route.continue_()
        else:
            route.fulfill(status=503, json={"fault": fault})

    page.route(f"**/api/films/{film['id']}/frame-runs", busy)
    page.goto(f"{house.url}/sessions/{film['session_id']}/bench")
    expect(page.get_by_text(fault)).to_be_visible()
    expect(page.get_by_test_id("frame")).to_be_visible()
    expect(page.get_by_text(fault)).to_have_count(0)


def test_a_rep_by_mouse_alone(bench, trainer, film):
    page = bench.page
    bench.seek(0.1)
    page.get_by_role("button", name="b behaviour begins").click()
    bench.seek(0.14)
    page.get_by_role("button", name="m marker").click()
    bench.seek(0.25)
    page.get_by_role("button", name="r reward").click()
    page.get_by_role("button", name="f judge: fits the criterion?").click()
    expect(bench.reps).to_have_count(1)
    expect(bench.reps).to_have_attribute("aria-label", re.compile("Rep 1, fits, marker"))
    bench.wait_saved()
    assert findings(trainer, film)["counts"]["reinforcements"] == 1


def test_undo_and_redo_of_everything(bench):
    page = bench.page
    one_rep(bench)
    page.keyboard.press("f")
    row = bench.reps
    expect(row).to_have_attribute("aria-label", re.compile("fits"))
    for _ in range(4):
        page.keyboard.press("Control+z")
    expect(row).to_have_count(0)
    for _ in range(4):
        page.keyboard.press("Control+Shift+z")
    expect(row).to_have_attribute("aria-label", re.compile("Rep 1, fits, marker .*reward"))
    bench.wait_saved()
    page.reload()
    bench.settle()
    expect(row).to_have_attribute("aria-label", re.compile("Rep 1, fits, marker .*reward"))


def test_a_chosen_mark_is_nudged_moved_and_removed(bench, trainer, film):
    page = bench.page
    one_rep(bench)
    page.keyboard.press("Escape")
    page.get_by_role("group", name="Marks of this rep").get_by_role("button", name="marker").click()
    assert bench.settle() == 39
    page.keyboard.press("Alt+ArrowRight")
    assert bench.settle() == 40
    page.get_by_role("button", name="a frame earlier").click()
    page.get_by_role("button", name="a frame earlier").click()
    assert bench.settle() == 38
    # Pointing at a neighbour moves it there at once.
    page.locator("[data-frame='41']").click()
    bench.settle()
    bench.wait_saved()
    assert findings(trainer, film)["reps"][0]["marker_latency_s"] == pytest.approx(11 / 30)
    page.keyboard.press("Backspace")
    expect(bench.reps).to_have_attribute("aria-label", "Rep 1, paid without a marker")
    page.keyboard.press("Control+z")
    expect(bench.reps).to_have_attribute("aria-label", re.compile(r"marker \+0\.367 s"))


def test_a_missing_mark_is_placed_by_pointing(bench, trainer, film):
    page = bench.page
    bench.go(30)
    page.keyboard.press("b")
    expect(bench.reps).to_have_count(1)
    box = bench.reps.bounding_box()
    # The hollow ring stands a little after the onset, where a marker usually falls.
    hollow = page.locator("[data-rep] [data-hollow=marker]").bounding_box()
    page.mouse.click(hollow["x"] + hollow["width"] / 2, box["y"] + box["height"] / 2)
    expect(page.get_by_text("Point at the frame below the picture")).to_be_visible()
    bench.settle()
    page.locator("[data-frame='33']").click()
    bench.wait_saved()
    assert findings(trainer, film)["reps"][0]["marker_latency_s"] == pytest.approx(0.1)


def test_marks_survive_a_closed_tab_and_the_address_keeps_the_instant(bench, context, film, house):
    one_rep(bench)
    bench.wait_saved()
    expect(bench.page).to_have_url(re.compile(r"t=2\.333333"))
    address = bench.page.url
    bench.page.close()
    again = context.new_page()
    again.goto(address)
    expect(again.locator("[data-rep]")).to_have_count(1)
    expect(again.get_by_test_id("frame")).to_have_text("70")


@pytest.mark.long
@pytest.mark.parametrize("way", ["on", "back"])
def test_a_page_on_its_way_is_not_stopped_by_the_instant_in_the_address(bench, house, film, way):
    page = bench.page
    findings = f"{house.url}/sessions/{film['session_id']}/findings"
    if way == "back":
        page.goto(findings)
        page.get_by_role("link", name="Bench", exact=True).click()
        bench.settle()
        # The findings' code is to be brought anew, but the way back to them is still known.
        page.reload()
        bench.settle()
    held = []
    page.route("**/assets/findings-page*.js", lambda route: held.append(route))
    bench.go(5)
    if way == "on":
        page.get_by_role("link", name="Findings", exact=True).click()
        # Stands there only once the page is asked for.
        expect(page).to_have_url(re.compile(r"bench\?t=0\.166667"))
    else:
        page.evaluate("history.back()")
        expect(page).to_have_url(findings)
        page.wait_for_timeout(800)
        assert page.url == findings
    assert len(held) == 1
    # And one sees that it is.
    expect(page.get_by_text("Opening …")).to_be_visible()
    held[0].continue_()
    expect(page.get_by_text("Opening …")).to_have_count(0)
    expect(page.get_by_role("link", name="Findings", exact=True)).to_have_attribute(
        "aria-current", "page"
    )
    expect(page).to_have_url(findings)


@pytest.mark.long
def test_two_tabs_agree(bench, context, house, film):
    other = Bench(context.new_page(), house.url, film["session_id"])
    one_rep(bench)
    expect(other.reps).to_have_count(1)
    other.go(100)
    other.page.keyboard.press("b")
    expect(bench.reps).to_have_count(2)
    other.page.keyboard.press("Control+z")
    expect(bench.reps).to_have_count(1)


@pytest.mark.long
def test_a_stopped_server_loses_nothing(page, make_house, shot_short):
    """Saved marks outlive a kill; marks made meanwhile wait in the browser and are sent."""
    own = make_house()
    trainer = own.start().trainer()
    try:
        film = trainer.settled(trainer.upload(shot_short)["id"])
        log_in(page, own.url)
        bench = Bench(page, own.url, film["session_id"])
        bench.go(30)
        page.keyboard.press("b")
        bench.wait_saved()
        own.kill()
        bench.go(39)
        page.keyboard.press("m")
        corner = page.locator("[data-saving]")
        expect(corner).to_have_attribute("data-saving", "waiting")
        expect(corner).to_contain_text("1 change kept in this browser")
        own.start()
        expect(corner).to_have_attribute("data-saving", "saved")
        (rep,) = findings(own.trainer(), film)["reps"]
        assert rep["marker_latency_s"] == pytest.approx(0.3)
        # And a mark made with the server away, in a tab that is closed before it comes back.
        own.kill()
        bench.go(70)
        page.keyboard.press("r")
        expect(corner).to_contain_text("kept in this browser")
        context = page.context
        page.goto("about:blank")
        own.start()
        again = Bench(context.new_page(), own.url, film["session_id"])
        again.wait_saved()
        (rep,) = findings(own.trainer(), film)["reps"]
        assert rep["reward_latency_s"] == pytest.approx(31 / 30)
    finally:
        own.kill()


def test_a_lost_connection_is_said_and_made_good(bench, context, trainer, film):
    context.set_offline(True)
    bench.go(30)
    bench.page.keyboard.press("b")
    corner = bench.page.locator("[data-saving]")
    expect(corner).to_contain_text("1 change kept in this browser")
    context.set_offline(False)
    bench.wait_saved()
    assert findings(trainer, film)["counts"]["attempts"] == 1


def test_playing_moves_on_and_the_speed_holds(bench):
    page = bench.page
    page.get_by_label("Speed").select_option("0.5")
    before, began = bench.seek(0.2), time.monotonic()
    page.get_by_role("button", name="Play").click()
    page.wait_for_function(
        f"() => Number(document.querySelector('canvas[role=img]').dataset.frame) >= {before + 20}"
    )
    # 20 frames at half of 30 a second last 1.33 s, never less.
    assert time.monotonic() - began > 1.0
    page.get_by_role("button", name="Stop").click()
    assert bench.settle() >= before + 20
    sound = page.evaluate("() => { const v = document.querySelector('video'); return !v.muted; }")
    assert sound


def test_everything_fits_without_scrolling_and_the_keys_can_be_seen(bench):
    page = bench.page
    one_rep(bench)
    size = page.evaluate(
        "() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]"
    )
    assert size[0] <= 1280
    assert size[1] <= 800
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys of the bench")).to_contain_text("behaviour begins")
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)


@pytest.mark.long
def test_arrow_keys_walk_through_the_reps(bench_of, trainer, shot_short):
    film = trainer.settled(trainer.upload(shot_short)["id"])
    code_truth(trainer, film, shot_short)
    bench = bench_of(film)
    count = bench.reps.count()
    expect(bench.reps.nth(1)).to_be_visible()
    count = bench.reps.count()
    assert count >= 2
    for place in range(count):
        bench.reps.nth(place).press("Enter")
        bench.settle()
        expect(bench.reps.nth(place)).to_have_attribute("aria-current", "true")
    bench.page.keyboard.press("ArrowUp")
    bench.settle()
    expect(bench.reps.nth(count - 2)).to_have_attribute("aria-current", "true")


@pytest.mark.long
def test_marks_go_out_and_come_in_by_the_session_menu(bench, trainer, film, tmp_path):
    page = bench.page
    one_rep(bench)
    bench.wait_saved()
    page.get_by_role("button", name="Session", exact=True).click()
    with page.expect_download() as saving:
        page.get_by_role("menuitem", name="Save marks as CSV").click()
    path = tmp_path / "marks.csv"
    saving.value.save_as(path)
    for _ in range(3):
        page.keyboard.press("Control+z")
    expect(bench.reps).to_have_count(0)
    page.get_by_label("File with marks").set_input_files(path)
    expect(bench.reps).to_have_attribute("aria-label", re.compile(r"marker \+0\.300 s"))
    path.write_text("id,kind,t\nb,hop,1\n")
    page.get_by_label("File with marks").set_input_files(path)
    expect(page.get_by_text("was not read, nothing has changed").first).to_contain_text(
        "unknown kind"
    )
    expect(bench.reps).to_have_count(1)


@pytest.mark.long
def test_signs_and_other_behaviours_are_named_before_they_stand(bench, trainer, film):
    page = bench.page
    one_rep(bench)
    bench.go(100)
    page.keyboard.press("o")
    page.keyboard.type("paws")
    page.keyboard.press("Enter")
    bench.go(120)
    page.keyboard.press("s")
    page.keyboard.type("yawns")
    page.get_by_label("How strong").select_option("2")
    page.get_by_role("button", name="Mark it").click()
    # What has no name does not stand.
    bench.go(130)
    page.keyboard.press("o")
    page.keyboard.press("Escape")
    bench.wait_saved()
    found = findings(trainer, film)
    assert found["offered"]["labels"]["paws"]["count"] == 1
    assert found["signs"]["labels"]["yawns"]["worst"] == 2
    # They can be chosen again, and removed.
    page.keyboard.press("Escape")
    page.get_by_role("button", name="2 more").click()
    page.get_by_role("menuitem", name="sign: yawns").click()
    assert bench.settle() == 120
    page.keyboard.press("Backspace")
    bench.wait_saved()
    assert findings(trainer, film)["signs"]["labels"] == {}


@pytest.mark.long
def test_steps_are_named_begun_and_judged_by_their_rule(bench, trainer, film):
    page = bench.page
    page.get_by_role("button", name="Name the steps of this session").click()
    page.get_by_label("Step 1, what counts").fill("Looks at the rope")
    page.get_by_role("button", name="One more step").click()
    page.get_by_label("Step 2, what counts").fill("Holds the rope")
    page.get_by_label("Step 2, when the marker should fall").select_option("hold")
    page.get_by_label("Step 2, held for seconds").fill("0.5")
    page.get_by_role("button", name="Keep these steps").click()
    page.keyboard.press("1")
    one_rep(bench)
    page.keyboard.press("f")
    bench.go(100)
    page.get_by_role("button", name="2 Holds the rope").click()
    one_rep(bench, 110, 125, 150)
    bench.wait_saved()
    expect(page.get_by_role("group", name="Holds the rope")).to_be_visible()
    look, hold = findings(trainer, film)["splits"]["segments"]
    assert (look["attempts"], look["met"], look["change"]["kind"]) == (1, 1, "early")
    # The marker came at 0.5 s, where the plan wanted it.
    assert hold["attempts"] == 1
    assert findings(trainer, film)["reps"][1]["timing"] == "on_time"
    assert findings(trainer, film)["timing_error_s"]["min"] == pytest.approx(0, abs=1e-6)
    for _ in range(9):
        page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="1 Looks at the rope")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_role("button", name="Name the steps of this session")).to_be_visible()


@pytest.mark.long
def test_a_step_with_marks_under_it_cannot_be_taken_out(bench):
    page = bench.page
    page.get_by_role("button", name="Name the steps of this session").click()
    page.get_by_label("Step 1, what counts").fill("Looks at the rope")
    page.get_by_role("button", name="One more step").click()
    page.get_by_label("Step 2, what counts").fill("Nose on the rope")
    page.get_by_role("button", name="Keep these steps").click()
    page.keyboard.press("1")
    page.get_by_role("button", name="Change the steps").click()
    expect(page.get_by_role("button", name="Take step 1 out")).to_be_disabled()
    page.get_by_role("button", name="Take step 2 out").click()
    page.get_by_role("button", name="Keep these steps").click()
    expect(page.get_by_role("toolbar", name="Steps").get_by_role("button")).to_have_count(2)


@pytest.mark.long
def test_an_upright_film_has_its_strip_and_marks_beside_it(bench_of, trainer, tmp_path):
    path = shot_film(tmp_path, "upright.mp4", 6, seed=5, width=540, height=960)
    film = trainer.settled(trainer.upload(path)["id"])
    bench = bench_of(film)
    page = bench.page
    bench.go(20)
    assert bench.painted() == 20
    picture = bench.canvas.bounding_box()
    section = page.get_by_role("region", name="Film")
    whole = section.bounding_box()
    # Before, a third of the stage was picture, 216 px across.
    assert picture["width"] >= 320
    assert picture["height"] / picture["width"] == pytest.approx(16 / 9, abs=0.02)
    strip = page.locator("button[data-frame]").first.bounding_box()
    assert strip["x"] >= picture["x"] + picture["width"]
    assert strip["height"] > 100
    assert section.evaluate("s => s.scrollWidth <= s.clientWidth")
    bar = page.get_by_role("toolbar", name="Marks").bounding_box()
    assert bar["x"] + bar["width"] <= whole["x"] + whole["width"] + 1
    assert bar["y"] + bar["height"] <= 800
    # What listens stands under the picture, where there is room.
    passes = page.get_by_role("group", name="Passes").bounding_box()
    assert passes["y"] >= picture["y"] + picture["height"]
    assert passes["x"] + passes["width"] <= strip["x"]
    for key in ("b", "m", "e", "r"):
        page.keyboard.press(key)
    bench.wait_saved()
    expect(bench.reps).to_have_count(1)
    # With everything marked the steps can still be seen.
    steps = page.get_by_role("toolbar", name="Steps").bounding_box()
    assert steps["y"] + steps["height"] <= 800


@pytest.mark.parametrize("shape", few(1, ["wide", "upright"]))
def test_on_a_phone_one_codes_with_the_thumb(bench_of, trainer, film, tmp_path, shape):
    if shape == "upright":
        path = shot_film(tmp_path, "phone.mp4", 6, seed=5, width=540, height=960)
        film = trainer.settled(trainer.upload(path)["id"])
    bench = bench_of(film, t="1.0")
    page = bench.page
    page.set_viewport_size({"width": 390, "height": 844})
    # The page hears of its new width a moment after the window has it.
    page.wait_for_function(
        "width => Math.abs(document.querySelector('canvas[role=img]').clientWidth - width) <= 2",
        arg=370 if shape == "wide" else 0.4 * 844 * 9 / 16,
    )
    bench.settle()
    for name in ("behaviour begins", "marker", "reward"):
        # Two frames on by the strip, as no key is at hand.
        page.locator("button[data-frame]").last.click()
        bench.settle()
        button = page.get_by_role("toolbar", name="Marks").get_by_role("button", name=f" {name}")
        box = button.bounding_box()
        assert box["height"] >= 44
        assert box["y"] + box["height"] <= 844
        button.click()
    bench.wait_saved()
    expect(bench.reps).to_have_count(1)
    found = findings(trainer, film)
    assert found["reps"][0]["marker_latency_s"] == pytest.approx(2 / 30, abs=0.002)
    assert found["reward_latency_s"]["median"] == pytest.approx(2 / 30, abs=0.002)
    # Marking does not scroll the film away, and nothing goes beyond the sides.
    assert page.evaluate("() => scrollY") == 0
    assert page.evaluate("() => document.documentElement.scrollWidth") <= 390
    ladder = page.get_by_role("region", name="Reps, lined up").bounding_box()
    assert ladder["x"] >= 0
    assert ladder["x"] + ladder["width"] <= 390
