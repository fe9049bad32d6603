"""Today, and the card of the next session: read, changed, kept, printed."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from .conftest import coded_film


@pytest.fixture(scope="module")
def house(own_house):
    return own_house


@pytest.fixture(scope="module")
def filmed(trainer, shot_bell):
    """The coded film, filmed under the bell plan."""
    coded = coded_film(trainer, shot_bell)
    learner = trainer.ask("POST", "/api/learners", json={"name": "Thistle"}).json()
    body = {"learner_id": learner["id"], "starter": "bell"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()
    path = f"/api/behaviours/{behaviour['id']}/sessions"
    said = trainer.ask("POST", path, json={"session_id": coded["session_id"]})
    assert said.status_code == 204
    return coded["session_id"]


def card(trainer, session_id):
    return trainer.ask("GET", f"/api/plans/next/{session_id}").json()


def test_from_today_to_the_card_in_one_press(page, house, trainer, filmed):
    page.goto(house.url)
    page.locator(f"a[href='/sessions/{filmed}/next']", has_text="Next session").click()
    expect(page).to_have_url(re.compile(f"/sessions/{filmed}/next"))
    found = card(trainer, filmed)
    expect(page.get_by_role("heading", level=1)).to_have_text(found["why"]["text"])
    expect(page.get_by_label("Minutes")).to_have_value(f"{found['minutes']:g}")
    expect(page.get_by_label("Rewards to prepare")).to_have_value(str(found["pieces"]))
    for line in found["watch"] + found["stop_rules"]:
        expect(page.get_by_text(line, exact=True)).to_be_visible()


def test_a_change_is_kept_and_can_be_taken_back(page, house, trainer, filmed):
    page.goto(f"{house.url}/sessions/{filmed}/next")
    page.get_by_label("Minutes").fill("1.5")
    page.get_by_label("Minutes").blur()
    page.get_by_label("When").fill("2026-12-01T09:30")
    page.get_by_label("Then").select_option("look")
    expect(page.get_by_role("button", name="As the rule says")).to_be_visible()
    page.reload()
    page.wait_for_timeout(300)
    page.reload()
    expect(page.get_by_label("Minutes")).to_have_value("1.5")
    expect(page.get_by_label("When")).to_have_value("2026-12-01T09:30")
    expect(page.get_by_label("Then")).to_have_value("look")
    with page.expect_download() as download:
        page.get_by_role("link", name="To the calendar").click()
    assert b"DTSTART:20261201T093000" in download.value.path().read_bytes()
    page.get_by_role("button", name="As the rule says").click()
    expect(page.get_by_label("Minutes")).to_have_value(f"{card(trainer, filmed)['minutes']:g}")


def test_the_card_prints_on_one_page(page, house, filmed):
    page.goto(f"{house.url}/sessions/{filmed}/next")
    expect(page.get_by_label("Minutes")).to_be_visible()
    pdf = page.pdf(format="A4")
    assert len(re.findall(rb"/Type\s*/Page\b", pdf)) == 1


def test_a_missing_step_is_written_into_the_plan_with_one_press(page, house, trainer):
    learner = trainer.ask("POST", "/api/learners", json={"name": "Sedge"}).json()
    body = {"learner_id": learner["id"], "starter": "bell", "name": "Ring the barn bell"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()
    counts = {"minutes": 2, "reps": 6, "met": 0, "approximation": "look"}
    made = trainer.ask(
        "POST",
        f"/api/logbook/{behaviour['id']}/by-hand",
        json={"date": "2026-05-07", "trainer": "wren", "counts": counts},
    ).json()
    page.goto(f"{house.url}/sessions/{made['session_id']}/next")
    expect(page.get_by_role("heading", level=1)).to_contain_text("A smaller step before")
    page.get_by_role("button", name="Write it into the plan").click()
    expect(page.get_by_label("Name of the step")).to_have_value("Half-way to “Looks at the rope”")
    document = trainer.ask("GET", f"/api/behaviours/{behaviour['id']}").json()["plan"]["document"]
    assert document["approximations"][1]["key"] == "look"


def test_a_judgement_seen_differently_is_kept_and_can_be_taken_back(page, house, trainer, filmed):
    page.goto(f"{house.url}/sessions/{filmed}/findings")
    headline = page.get_by_role("heading", level=1).inner_text()
    page.get_by_role("button", name="I see it differently").click()
    expect(page.get_by_text("You saw it differently")).to_contain_text(headline)
    path = f"/api/sessions/{filmed}/judgement"
    assert trainer.ask("GET", path).json()["disagrees"] == headline
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_role("button", name="I see it differently")).to_be_visible()
    assert trainer.ask("GET", path).json()["disagrees"] is None
