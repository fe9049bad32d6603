"""What makes coding quick: heard clicks, own keys, what holds, clips, loupe, loop, side by side."""

from __future__ import annotations

import re
from itertools import pairwise

import pytest
from playwright.sync_api import expect

from frequens.media.decode.frames import index_frames

from .conftest import SHORT_S, cleaned, code_truth, truth_of


@pytest.fixture(scope="module")
def house(own_house):
    """Own keys and an own lag, set here, would hold for every other file too."""
    return own_house


@pytest.fixture(scope="module")
def shot(shot_short):
    return shot_short


@pytest.fixture(scope="module")
def taken_in(trainer, shot):
    return trainer.settled(trainer.upload(shot)["id"])


@pytest.fixture
def film(trainer, taken_in):
    return cleaned(trainer, taken_in)


@pytest.fixture
def bench(bench_of, film):
    return bench_of(film)


def findings(trainer, film):
    return trainer.ask("GET", f"/api/sessions/{film['session_id']}/findings").json()["findings"]


def edits(trainer, film):
    path = f"/api/sessions/{film['session_id']}/edits?after={film['after']}"
    return [e["body"] for e in trainer.ask("GET", path).json()["edits"]]


def markers(shot):
    return [e.t_us / 1e6 for e in truth_of(shot).events if e.kind == "marker"]


@pytest.mark.long
def test_suggestions_are_no_data_until_they_are_taken(bench, trainer, film, shot):
    page, true = bench.page, markers(shot)
    expect(page.locator("[data-heard]")).to_have_count(len(true))
    assert edits(trainer, film) == []
    # The next click is found with d, and Enter takes it.
    page.keyboard.press("d")
    bench.settle()
    expect(page.get_by_role("button", name="Enter take this click")).to_be_visible()
    page.keyboard.press("Enter")
    bench.wait_saved()
    (edit,) = edits(trainer, film)
    assert edit["event"]["source"] == "audio"
    assert edit["event"]["t"] == pytest.approx(true[0], abs=0.003)
    expect(page.locator("[data-heard]")).to_have_count(len(true) - 1)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-heard]")).to_have_count(len(true))


def test_fewer_and_more_can_be_asked_for(bench, shot):
    page, slider = bench.page, bench.page.get_by_label("Fewer or more heard clicks")
    expect(page.locator("[data-heard]")).to_have_count(len(markers(shot)))
    slider.focus()
    slider.press("Home")
    expect(page.locator("[data-heard]")).to_have_count(0)
    expect(page.get_by_role("button", name="take all 0")).to_be_disabled()
    slider.press("ArrowRight")
    expect(page.locator("[data-heard]")).to_have_count(1)


@pytest.mark.long
def test_the_offset_of_the_sound_is_set_on_one_visible_click(bench, trainer, film, shot):
    page, true = bench.page, markers(shot)
    expect(page.locator("[data-heard]")).to_have_count(len(true))
    index = index_frames(shot)
    # The reviewer sees the click five frames before it is heard.
    bench.go(index.first_after(round(true[0] * 1e6)) - 5)
    here = bench.time_us / 1e6 - 1 / 60
    page.get_by_role("button", name="Session", exact=True).click()
    page.get_by_role("menuitem", name="The nearest click is seen on this frame").click()
    bench.wait_saved()
    offset = next(e["set"]["av_offset_s"] for e in edits(trainer, film) if e["op"] == "facts")
    assert offset == pytest.approx(true[0] - here, abs=0.004)
    page.get_by_role("button", name=re.compile("^take all")).click()
    bench.wait_saved()
    page.wait_for_timeout(300)
    bench.go(index.first_after(round(true[0] * 1e6)) - 12)
    page.keyboard.press("b")
    bench.wait_saved()
    rep = findings(trainer, film)["reps"][0]
    assert rep["marker_latency_s"] == pytest.approx(7 / 30, abs=0.01)


@pytest.mark.long
def test_a_key_can_be_given_to_something_else(bench, trainer):
    page = bench.page
    page.keyboard.press("?")
    page.get_by_role("button", name="Change the key for: behaviour begins").click()
    page.keyboard.press("y")
    expect(page.get_by_role("button", name="Change the key for: behaviour begins")).to_have_text(
        "y"
    )
    # One the bench needs itself cannot be given away.
    page.get_by_role("button", name="Change the key for: ends").click()
    page.keyboard.press("5")
    expect(page.get_by_role("alert")).to_contain_text("cannot be changed")
    page.get_by_role("button", name="Close").click()
    bench.go(20)
    page.keyboard.press("y")
    expect(bench.reps).to_have_count(1)
    # It is the reviewer's, not the page's.
    # What had the key before has the one that was given up.
    keys = {"onset": "y", "part": "b"}
    assert trainer.ask("GET", "/api/me").json()["preferences"]["keys"] == keys
    page.reload()
    bench.settle()
    expect(page.get_by_role("button", name="y behaviour begins")).to_be_visible()
    page.keyboard.press("?")
    page.get_by_role("button", name="The usual keys again").click()
    expect(page.get_by_role("button", name="Change the key for: behaviour begins")).to_have_text(
        "b"
    )
    bench.wait_saved()


@pytest.mark.long
def test_what_holds_goes_with_every_new_mark_until_changed(bench, trainer, film):
    page = bench.page
    page.get_by_role("button", name="What holds until it is changed").click()
    page.get_by_label("Another condition").fill("side")
    page.get_by_label("Its level now").fill("left")
    page.get_by_role("button", name="set", exact=True).click()
    page.get_by_role("button", name="tossed away").click()
    page.get_by_label("a new rep fits").check()
    page.keyboard.press("Escape")
    for frame, key in ((10, "b"), (14, "m"), (40, "r"), (60, "b")):
        bench.go(frame)
        page.keyboard.press(key)
    bench.wait_saved()
    found = findings(trainer, film)
    assert found["conditions"]["side"]["levels"]["left"]["attempts"] == 2
    assert found["success"]["met"] == 2
    assert found["placement"]["tossed away"]["count"] == 1


RARE = [
    ("p", "prompt", {"level": "empty_hand"}),
    ("k", "marker", {"marker": "keep_going"}),
    ("n", "marker", {"marker": "no_reward"}),
    ("t", "reset", {}),
    ("l", "release", {}),
    ("a", "off_task_start", {}),
    ("u", "no_cue_window", {}),
    ("j", "note", {"text": "Gulls."}),
]


@pytest.mark.long
def test_every_other_kind_has_its_key(bench, trainer, film):
    page = bench.page
    for n, (key, _, said) in enumerate(RARE):
        bench.go(10 + 10 * n)
        page.keyboard.press(key)
        if "level" in said:
            page.get_by_label("Which help").select_option("empty_hand")
            page.keyboard.press("Enter")
        if "text" in said:
            page.keyboard.type("Gulls.")
            page.keyboard.press("Enter")
    bench.go(100)
    page.keyboard.press("a")
    bench.go(110)
    page.keyboard.press("u")
    bench.wait_saved()
    put = [e["event"] for e in edits(trainer, film)]
    for n, (_, kind, said) in enumerate(RARE):
        (mark, *_) = [e for e in put if e["kind"] == kind and e["frame"] == 10 + 10 * n]
        assert {k: mark.get(k) for k in said} == said
    assert any(e["kind"] == "off_task_end" and e["frame"] == 100 for e in put)
    window = [e for e in put if e["kind"] == "no_cue_window"][-1]
    assert window["end_s"] == pytest.approx(110 / 30, abs=1e-5)
    assert findings(trainer, film)["counts"]["keep_going_markers"] == 1


@pytest.mark.long
def test_work_pauses_and_goes_on_and_the_pause_is_no_training_time(bench, trainer, film):
    page = bench.page
    bench.go(60)
    page.get_by_role("button", name="More marks").click()
    page.get_by_role("menuitem", name="work pauses, and begins again").click()
    bench.go(120)
    page.keyboard.press("w")
    bench.wait_saved()
    found = findings(trainer, film)
    assert found["training_time_s"] == pytest.approx(SHORT_S - 2, abs=0.1)


@pytest.mark.long
def test_a_marks_details_are_said_at_the_bench(bench, trainer, film):
    page = bench.page
    for frame, key in ((10, "b"), (14, "m"), (40, "r")):
        bench.go(frame)
        page.keyboard.press(key)
    page.get_by_role("button", name="about it").click()
    page.get_by_label("pieces").fill("3")
    page.get_by_label("goes").fill("in the bucket")
    page.get_by_label("goes").blur()
    page.keyboard.press("Escape")
    bench.wait_saved()
    found = findings(trainer, film)
    assert found["counts"]["pieces"] == 3
    assert found["placement"]["in the bucket"]["count"] == 3


@pytest.mark.long
def test_the_strip_widens_to_three_rows_and_the_page_does_not_scroll(bench):
    page = bench.page
    bench.go(100)
    for rows in (2, 3, 1):
        page.keyboard.press("q")
        expect(page.locator("button[data-frame]")).to_have_count(9 * rows)
        assert bench.settle() == 100
        box = page.get_by_role("toolbar", name="Steps").bounding_box()
        assert box["y"] + box["height"] <= 800
        assert page.evaluate("() => document.documentElement.scrollHeight <= innerHeight")


def test_the_picture_zooms_pans_and_has_a_loupe(bench):
    page, canvas = bench.page, bench.canvas
    before = canvas.bounding_box()
    page.get_by_role("button", name="Larger").click()
    page.get_by_role("button", name="Larger").click()
    after = canvas.bounding_box()
    assert after["width"] == pytest.approx(before["width"] * 2.25, rel=0.02)
    x, y = before["x"] + 200, before["y"] + 120
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y + 30, steps=4)
    page.mouse.up()
    moved = canvas.bounding_box()
    assert (moved["x"] - after["x"], moved["y"] - after["y"]) == pytest.approx((40, 30), abs=4)
    page.get_by_role("button", name="The whole picture").click()
    page.keyboard.press("z")
    page.mouse.move(x, y)
    expect(page.get_by_test_id("loupe")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_test_id("loupe")).to_have_count(0)


@pytest.fixture
def coded_bench(trainer, film, shot, bench_of):
    code_truth(trainer, film, shot)
    bench = bench_of(film)
    expect(bench.reps.first).to_be_visible()
    return bench


@pytest.mark.long
def test_a_rep_is_played_round_and_round(coded_bench, trainer, film):
    page = coded_bench.page
    rep = findings(trainer, film)["reps"][1]
    coded_bench.reps.nth(1).press("Enter")
    coded_bench.settle()
    page.keyboard.press("g")
    expect(page.get_by_role("button", name="Round and round this rep")).to_have_attribute(
        "aria-pressed", "true"
    )
    seen = []
    for _ in range(45):
        seen.append(page.evaluate("() => document.querySelector('video').currentTime"))
        page.wait_for_timeout(100)
    assert min(seen) >= rep["onset_s"] - 1
    assert max(seen) <= (rep["reward_s"] or rep["onset_s"] + 1) + 1.5
    assert any(later < earlier - 0.5 for earlier, later in pairwise(seen))
    page.keyboard.press("g")
    coded_bench.settle()


@pytest.mark.long
def test_two_reps_stand_side_by_side_at_the_same_distance(coded_bench, trainer, film):
    page = coded_bench.page
    coded_bench.reps.first.press("Enter")
    coded_bench.settle()
    page.keyboard.press("v")
    dialog = page.get_by_role("dialog")
    for _ in range(6):
        dialog.get_by_role("button", name="A frame later").click()
    captions = dialog.locator("figcaption")
    expect(captions).to_contain_text(["+0.200 s from its onset"] * 2)
    one, other = captions.all_inner_texts()
    frames = [int(re.search(r"frame (\d+)", f)[1]) for f in (one, other)]
    onsets = [e["event"]["frame"] for e in edits(trainer, film) if e["event"]["kind"] == "onset"]
    assert all(frame - 6 in onsets for frame in frames)
    for picture in dialog.locator("img").all():
        page.wait_for_function(
            "i => i.complete && i.naturalWidth > 0", arg=picture.element_handle()
        )


def test_the_own_lag_is_shown_and_set_by_hand(bench, trainer):
    page = bench.page
    page.get_by_role("button", name="usual lag").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("Nobody has measured yours yet")
    page.get_by_label("Lag taken off, seconds").fill("0.31")
    expect(dialog).to_contain_text("It is set by hand")
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_role("button", name="own lag")).to_contain_text("+0.31 s")
    kept = trainer.ask("GET", "/api/me").json()["preferences"]
    assert (kept["lag_s"], kept["lag_by"]) == (0.31, "hand")
    page.get_by_role("button", name="own lag").click()
    page.get_by_role("link", name="Measure it").click()
    expect(page.get_by_test_id("own-lag")).to_have_text("+0.310 s")


@pytest.mark.long
def test_clips_of_a_session_are_one_bench(trainer, shot, bench_of):
    film = trainer.settled(trainer.upload(shot)["id"]) | {"after": 0}
    second = trainer.settled(trainer.upload(shot)["id"])
    joined = trainer.ask(
        "POST", f"/api/films/{second['id']}/join", json={"session_id": film["session_id"]}
    )
    assert joined.status_code == 200
    bench = bench_of(film)
    page = bench.page
    expect(page.get_by_test_id("readout")).to_contain_text("clip 1 of 2")
    bench.go(30)
    page.keyboard.press("b")
    expect(bench.reps).to_have_count(1)
    bench.seek(0.75)
    expect(page.get_by_test_id("readout")).to_contain_text("clip 2 of 2")
    bench.settle()
    here = bench.frame
    assert bench.painted() == here
    page.keyboard.press("b")
    expect(bench.reps).to_have_count(2)
    bench.wait_saved()
    assert [e["event"].get("clip") for e in edits(trainer, film)] == [None, second["id"]]
    # A rep of the other clip leads there.
    bench.reps.first.click(position={"x": 20, "y": 12})
    expect(page.get_by_test_id("readout")).to_contain_text("clip 1 of 2")
    assert bench.settle() == 30
    gap_s = findings(trainer, film)["reps"][1]["onset_s"] - SHORT_S
    assert gap_s == pytest.approx(1 + here / 30, abs=0.01)
