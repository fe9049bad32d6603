"""Coding the other ways of working by keyboard: stays, chains, asking, touches, numbers."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from .conftest import cleaned

PLAN = {
    "rule": {"kind": "run"},
    "cues": [
        {"label": "disc", "behaviour": "pecks the disc"},
        {"label": "bowl", "behaviour": "pecks the bowl"},
    ],
    "approximations": [
        {"key": "stay", "title": "Stands", "mark_at": "hold", "hold_s": 0.5, "until_release": True},
        {
            "key": "peg",
            "title": "Peg into the bucket",
            "parts": [
                {"key": "take", "title": "takes it"},
                {"key": "carry", "title": "carries it"},
                {"key": "drop", "title": "drops it in"},
            ],
        },
        {
            "key": "lift",
            "title": "Lifts the hoof",
            "quantity": {"name": "height", "unit": "cm", "better": "more", "target": 20},
        },
        {"key": "words", "title": "On its word", "answers": True},
    ],
}


@pytest.fixture
def film(trainer, shared_short):
    film = cleaned(trainer, shared_short)
    edit = {"client_id": f"plan-{film['after']}", "body": {"op": "facts", "set": {"plan": PLAN}}}
    trainer.ask("POST", f"/api/sessions/{film['session_id']}/edits", json={"edits": [edit]})
    return film


class Hands:
    """Goes to frames and presses keys, and counts the presses that mark."""

    def __init__(self, bench):
        self.bench, self.pressed = bench, 0

    def at(self, frame, *keys):
        self.bench.go(frame)
        for key in keys:
            self.bench.page.keyboard.press(key)
            self.pressed += 1


@pytest.fixture
def hands(bench_of, film):
    return Hands(bench_of(film))


@pytest.fixture
def measured(hands, trainer, film):
    def ask():
        hands.bench.wait_saved()
        path = f"/api/sessions/{film['session_id']}/findings"
        return trainer.ask("GET", path).json()["findings"]

    return ask


@pytest.mark.long
def test_a_stay_paid_five_times_costs_two_presses_a_pay_as_one_does(hands, measured):
    hands.at(1, "1")
    hands.at(4, "t")
    hands.at(20, "b")
    hands.pressed = 0
    for frame in (40, 60, 80, 100, 120):
        hands.at(frame, "m")
        hands.at(frame + 8, "r")
    assert hands.pressed == 10
    hands.at(140, "l")
    hands.at(146, "e", "f")
    row = hands.bench.reps
    expect(row).to_have_attribute(
        "aria-label",
        "Rep 1, fits, back after 0.5 s, marker +0.667 s, reward +0.267 s after it, "
        "paid 5 times, let go",
    )
    # One bar with all of them: five rings, five seeds, where it was let go, the way back.
    expect(row.locator("svg circle")).to_have_count(5)
    expect(row.locator("svg ellipse")).to_have_count(5)
    expect(row.locator("[data-release]")).to_have_count(1)
    expect(row.locator("[data-return]")).to_have_count(1)
    found = measured()
    assert found["counts"]["orphan_markers"] == 0
    stay = found["stays"]["stay"]
    assert (stay["kept"]["count"], stay["kept"]["of"], stay["pays_per_rep"]["mean"]) == (1, 1, 5)
    assert found["pay_gap_s"]["median"] == pytest.approx(20 / 30)
    assert found["returns"]["back_s"]["median"] == pytest.approx(16 / 30)


@pytest.mark.long
def test_each_further_pay_can_be_chosen_and_moved(hands, measured):
    page = hands.bench.page
    hands.at(1, "1")
    hands.at(20, "b")
    for frame in (40, 60):
        hands.at(frame, "m")
        hands.at(frame + 8, "r")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="paid 2 times", exact=True).click()
    page.get_by_role("menuitem", name="marker").click()
    assert hands.bench.settle() == 60
    page.keyboard.press("Alt+ArrowRight")
    assert measured()["pay_gap_s"]["median"] == pytest.approx(21 / 30)


def test_a_chain_goes_from_part_to_part_by_one_key(hands, measured):
    page = hands.bench.page
    hands.at(1, "2")
    # No part before anything has begun.
    hands.at(10, "y")
    expect(page.get_by_text("mark where it begins first").first).to_be_visible()
    hands.at(20, "b")
    hands.at(50, "y")
    hands.at(80, "y")
    hands.at(90, "y")
    expect(page.get_by_text("All parts of this chain are marked").first).to_be_visible()
    hands.at(100, "e", "m", "f")
    hands.at(150, "b")
    hands.at(170, "e")
    expect(hands.bench.reps).to_have_count(2)
    whole, broken = hands.bench.reps.all()
    expect(whole.locator("[data-part]")).to_have_count(2)
    expect(broken.locator("[data-part]")).to_have_count(0)
    found = measured()["chains"]["peg"]
    assert (found["completed"]["count"], found["completed"]["of"]) == (1, 2)
    assert [p["reached"]["count"] for p in found["parts"]] == [2, 1, 1]
    assert found["parts"][1]["gap_s"] == pytest.approx(1.0)


@pytest.mark.long
def test_answers_are_named_and_waiting_is_paid(hands, measured):
    page = hands.bench.page
    hands.at(1, "4")
    page.get_by_role("button", name="What holds until it is changed").click()
    page.get_by_role("group", name="cue said").get_by_role("button", name="disc").click()
    page.keyboard.press("Escape")
    page.locator("canvas[role=img]").click(position={"x": 5, "y": 5})
    hands.at(20, "c")
    hands.at(40, "b")
    page.get_by_label("Which behaviour this rep was").select_option("pecks the disc")
    page.locator("canvas[role=img]").click(position={"x": 5, "y": 5})
    hands.at(48, "m")
    hands.at(70, "r", "e")
    # A wait of two seconds in which it is still, and that is paid.
    hands.at(100, "u")
    hands.at(150, "m")
    hands.at(158, "r")
    hands.at(160, "u")
    wait = page.locator("[data-wait]")
    expect(wait).to_have_attribute("aria-label", "Nothing asked: wait paid")
    # Asked twice, and answered with the other thing.
    hands.at(190, "c")
    hands.at(205, "c")
    hands.at(220, "b")
    page.get_by_label("Which behaviour this rep was").select_option("pecks the bowl")
    found = measured()
    assert found["confusion"] == {"disc": {"pecks the disc": 1, "pecks the bowl": 1}}
    assert found["cues"]["disc"]["said"]["max"] == 2
    control = found["stimulus_control"]
    assert (control["hit"], control["wrong"], control["correct_rejection"]) == (1, 1, 1)
    assert (found["counts"]["paid_waits"], found["counts"]["orphan_markers"]) == (1, 0)


@pytest.mark.long
def test_a_touch_has_a_name_and_a_length_and_is_paid(hands, measured):
    page = hands.bench.page
    hands.at(30, "i")
    page.get_by_label("touch", exact=True).fill("brush")
    page.keyboard.press("Enter")
    page.locator("canvas[role=img]").click(position={"x": 5, "y": 5})
    # What ends last began: the touch.
    hands.at(60, "e")
    hands.at(75, "r")
    touch = measured()["exposures"]["brush"]
    assert (touch["n"], touch["paid"]["count"]) == (1, 1)
    assert touch["latency_s"]["median"] == pytest.approx(45 / 30)
    # After it a behaviour has an end of its own again.
    hands.at(100, "b")
    hands.at(130, "e")
    (rep,) = measured()["reps"]
    assert rep["held_s"] == pytest.approx(1.0)


@pytest.mark.long
def test_a_number_is_typed_with_its_unit(hands, measured):
    page = hands.bench.page
    hands.at(1, "3")
    hands.at(30, "b")
    page.keyboard.press("Escape")
    field = page.get_by_label("height of this rep, cm")
    field.fill("21.5")
    field.press("Enter")
    values = measured()["values"]["lift"]
    assert (values["n"], values["median"], values["reached"]["count"]) == (1, 21.5, 1)


def test_day_place_and_people_are_said_at_the_bench(hands, trainer, film):
    page = hands.bench.page
    page.get_by_role("button", name="Session").click()
    page.get_by_role("menuitem", name="Day, place and people").click()
    page.get_by_label("Time").fill("17:30")
    page.get_by_label("Handler").fill("Teasel")
    page.get_by_label("Place").fill("the barn")
    page.get_by_role("button", name="Keep it").click()
    hands.bench.wait_saved()
    said = trainer.ask("GET", f"/api/sessions/{film['session_id']}").json()
    assert (said["time"], said["handler"], said["place"]) == ("17:30", "Teasel", "the barn")
