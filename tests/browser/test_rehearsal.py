"""The rehearsal of a plan on the screen: computed by the core, changed, stopped, cautious."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from frequens.core.rehearsal import DEFAULT, rehearse
from frequens.core.rehearsal.from_plan import course_of
from tests.house import House, Trainer

from .axe import faults


@pytest.fixture(scope="module")
def behaviour(trainer: Trainer) -> dict[str, Any]:
    learner = trainer.ask("POST", "/api/learners", json={"name": "Bramble"}).json()
    body = {"learner_id": learner["id"], "starter": "stand", "name": "Rehearsed"}
    return dict(trainer.ask("POST", "/api/behaviours", json=body).json())


@pytest.fixture
def opened(page: Page, house: House, behaviour: dict[str, Any]) -> Page:
    page.goto(f"{house.url}/plans/{behaviour['id']}")
    page.get_by_role("link", name="Rehearse it").click()
    expect(page.locator("[data-school=comfort]")).not_to_contain_text("rehearsed")
    return page


def test_it_says_what_the_core_computes_and_what_it_is(opened, behaviour):
    expected = rehearse(course_of(behaviour["plan"]["document"]), DEFAULT, runs=200, seed=1)
    heading = opened.get_by_role("heading", level=1)
    reps, sessions = round(expected.reps.median), round(expected.sessions.median)
    expect(heading).to_have_text(
        f"{reps} reps in {sessions} sessions, for a learner as assumed here."
    )
    expect(opened.get_by_text("A rehearsal, never a forecast")).to_be_visible()
    titles = {s["key"]: s["title"] for s in behaviour["plan"]["document"]["approximations"]}
    steepest = titles[expected.steepest]
    expect(opened.get_by_role("heading", name=f"The steepest step: {steepest}")).to_be_visible()
    expect(opened.locator("[data-school]")).to_have_count(5)
    cautions = opened.get_by_role("region", name="What it leaves out").get_by_role("listitem")
    expect(cautions).to_have_count(7)
    expect(opened.get_by_text("The logbook has too few judged reps")).to_be_visible()
    assert faults(opened) == []


@pytest.mark.long
def test_an_assumption_that_is_changed_begins_it_anew(opened, behaviour):
    before = opened.get_by_role("heading", level=1).inner_text()
    slider = opened.get_by_label("learned by each reward")
    slider.fill("0.303")
    expect(opened.get_by_role("heading", level=1)).not_to_have_text(before)
    after = opened.get_by_role("heading", level=1).inner_text()
    assert int(after.split()[0]) < int(before.split()[0])


@pytest.mark.long
def test_one_more_step_between_is_tried(opened, behaviour):
    opened.get_by_role("button", name="try one more before it").nth(1).click()
    said = opened.get_by_role("status").filter(has_text="With one more step before")
    expect(said).to_contain_text(re.compile(r"each half as steep: \d+ reps in place of \d+"))


def test_it_can_be_stopped(page: Page, house: House, behaviour):
    """Every answer is held back, so that there is something to stop."""
    held = []
    page.route(
        "**/rehearsal", lambda r: held.append(r) if r.request.method == "POST" else r.continue_()
    )
    page.goto(f"{house.url}/plans/{behaviour['id']}/rehearsal")
    expect(page.get_by_text("0 of 5, 200 learners each")).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text("200 learners each")).to_have_count(0)
    expect(page.locator("[data-school=own]")).to_contain_text("not rehearsed")
    assert len(held) == 1
    page.unroute_all(behavior="ignoreErrors")


@pytest.mark.long
def test_on_a_phone_nothing_is_cut_off(opened):
    opened.set_viewport_size({"width": 390, "height": 844})
    assert opened.evaluate("() => document.documentElement.scrollWidth") <= 390
