"""Whole films coded by keyboard, by mouse and by touch, and the findings held to the truth."""

from __future__ import annotations

import math

import pytest
from playwright.sync_api import expect

from frequens.core import measure
from frequens.core.planning.shaping import STARTERS
from frequens.media.decode.frames import index_frames
from tests.long import few
from tests.reviewer import Reviewer, agree

from .conftest import Bench, cleaned, truth_of

#: A press this much later than it was meant may lie nearer to the next rep's mark, seconds: that is
#: the machine's doing and no reviewer's.
HELD_UP_S = 1.0
#: The widest error of a difference of two rectangles is √6 of its standard uncertainty.
WIDEST = math.sqrt(6) + 1e-6


@pytest.fixture(scope="module")
def shot(shot_short):
    return shot_short


@pytest.fixture(scope="module")
def behaviour(trainer):
    learner = trainer.ask("POST", "/api/learners", json={"name": "Thistle"}).json()
    made = trainer.ask(
        "POST", "/api/behaviours", json={"learner_id": learner["id"], "starter": "bell"}
    )
    return made.json()["id"]


@pytest.fixture(scope="module")
def taken_in(trainer, shot):
    return trainer.settled(trainer.upload(shot)["id"])


@pytest.fixture
def film(trainer, taken_in, behaviour):
    """The film, filmed under the bell plan, with nothing coded."""
    film = cleaned(trainer, taken_in)
    said = trainer.ask(
        "POST", f"/api/behaviours/{behaviour}/sessions", json={"session_id": film["session_id"]}
    )
    assert said.status_code == 204
    return film


@pytest.fixture
def context(browser, state, browser_context_args, request):
    touch = getattr(request, "param", None) == "touch"
    context = browser.new_context(**browser_context_args, storage_state=state, has_touch=touch)
    yield context
    context.close()


def findings(trainer, film):
    return trainer.ask("GET", f"/api/sessions/{film['session_id']}/findings").json()["findings"]


@pytest.mark.parametrize(
    ("context", "hand"),
    few(1, [("keyboard", "keyboard"), ("mouse", "mouse"), ("touch", "touch")]),
    indirect=["context"],
)
def test_a_film_coded_by_one_hand_alone_agrees_with_the_truth(
    page, house, trainer, film, shot, hand
):
    bench = Bench(page, house.url, film["session_id"])
    truth = truth_of(shot)
    Reviewer(page, truth, index_frames(shot), hand).code(
        ("criterion", "onset", "offset", "marker", "reach", "reward")
    )
    bench.wait_saved()
    found, real = findings(trainer, film), measure(truth)
    errors = agree(found, real)
    assert len(errors) >= 4
    assert all(abs(error) <= WIDEST * u for error, u in errors)
    assert [r["approximation"] for r in found["reps"]] == [r["approximation"] for r in real["reps"]]
    assert found["reach_lead_s"]["n"] == real["reach_lead_s"]["n"]
    assert {s["key"] for s in STARTERS["bell"]["approximations"]} >= {
        r["approximation"] for r in found["reps"]
    }


def test_heard_clicks_and_the_fix_pass_code_a_session(page, house, trainer, film, shot):
    """Take the clicks, then point: the behaviour before each, the reward after each."""
    bench = Bench(page, house.url, film["session_id"])
    # The plan tosses the reward away: being sent away stands on the bar.
    assert STARTERS["bell"]["reset"] == "toss"
    expect(page.get_by_role("button", name="reset: sent away for the next rep")).to_be_visible()
    truth = truth_of(shot)
    reviewer = Reviewer(page, truth, index_frames(shot))
    reviewer.fits_until_said_otherwise()
    reviewer.take_all_clicks()
    bench.wait_saved()
    expect(page.get_by_role("button", name="x fix", exact=False)).to_be_enabled()
    page.wait_for_timeout(300)
    reviewer.fix_all()
    # Rewards can be asked for once the reps they belong to are measured.
    if page.get_by_role("button", name="x fix", exact=False).is_enabled():
        reviewer.fix_all()
    bench.wait_saved()
    found, real = findings(trainer, film), measure(truth)
    marked = [r for r in real["reps"] if r["marker_s"] is not None]
    assert len(found["reps"]) == len(marked) >= 2
    for one, other in zip(found["reps"], marked, strict=True):
        for key in ("marker_latency_s", "reward_latency_s"):
            assert abs(one[key] - other[key]) <= WIDEST * one["uncertainty_s"] + 0.002
    assert reviewer.presses / len(marked) < 4 + 6 / len(marked)


@pytest.mark.long
def test_taps_are_rough_and_the_fix_pass_makes_them_exact(page, house, trainer, film, shot):
    bench = Bench(page, house.url, film["session_id"])
    truth = truth_of(shot)
    reviewer = Reviewer(page, truth, index_frames(shot))
    reviewer.fits_until_said_otherwise()
    for _ in range(5):
        page.locator("canvas[role=img]").click(position={"x": 20, "y": 20})
        latest = reviewer.tap_as_it_happens(("onset", "marker", "reward"))
        bench.wait_saved()
        if latest < HELD_UP_S:
            break
        # No reviewer would go on from there: they would tap it again.
        cleaned(trainer, film)
        bench = Bench(page, house.url, film["session_id"], t="0")
    assert latest < HELD_UP_S
    rough, real = findings(trainer, film), measure(truth)
    # Each says itself that it is rough: a tap's spread is some frames wide.
    assert rough["sources"]["marker_latency_s"] > 0.08
    page.wait_for_timeout(300)
    reviewer.fix_all()
    bench.wait_saved()
    errors = agree(findings(trainer, film), real)
    assert errors
    assert all(abs(error) <= WIDEST * u for error, u in errors)
