"""The script: from the card to paper and phone, and beside the session that came of it."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from frequens.core.planning.shaping import STARTERS, session_plan
from tests.core.training_days import Day


def played(lines, n, leave_out=()):
    """A day on which these lines are done, each as it stands, but those left out."""
    day, step = Day(session_plan(STARTERS["bell"]), n), None
    for place, line in enumerate(lines):
        if line["sort"] == "rep" and place not in leave_out:
            if line["step"] != step:
                day.at(step := line["step"])
            day.fits(conditions=line["levels"])
    return day


@pytest.fixture(scope="module")
def behaviour(trainer):
    learner = trainer.ask("POST", "/api/learners", json={"name": "Burdock"}).json()
    body = {"learner_id": learner["id"], "starter": "bell", "name": "Ring the field bell"}
    return trainer.ask("POST", "/api/behaviours", json=body).json()["id"]


@pytest.fixture(scope="module")
def bring(trainer, behaviour):
    def brought(day):
        made = trainer.ask("POST", "/api/sessions/import", json=day.document()).json()
        path = f"/api/behaviours/{behaviour}/sessions"
        said = trainer.ask("POST", path, json={"session_id": made["session_id"]})
        assert said.status_code == 204
        return made["session_id"]

    return brought


@pytest.fixture(scope="module")
def first(bring):
    return bring(Day(session_plan(STARTERS["bell"]), 1).at("nose").fits(3).misses(1).fits(2))


def script(trainer, session_id, **query):
    return trainer.ask("GET", f"/api/plans/next/{session_id}/script", params=query).json()


def test_from_the_card_to_a_script_on_one_page(page, house, trainer, first):
    page.goto(f"{house.url}/sessions/{first}/next")
    page.get_by_role("link", name="The script, rep by rep").click()
    found = script(trainer, first)
    heading = page.get_by_role("heading", level=1)
    expect(heading).to_contain_text(f"{found['reps']} reps in {found['minutes']:g} minutes")
    expect(page.locator("main li li, main ol li")).to_have_count(found["reps"])
    breaks = sum(line["sort"] == "break" for line in found["lines"])
    expect(page.get_by_text("Break: play")).to_have_count(breaks)
    for line in found["stop_rules"]:
        expect(page.get_by_text(line, exact=True)).to_be_visible()
    pdf = page.pdf(format="A4")
    assert len(re.findall(rb"/Type\s*/Page\b", pdf)) == 1


def test_another_order_is_the_same_session_in_another_order(page, house, first):
    page.goto(f"{house.url}/sessions/{first}/script")
    rows = page.locator("main ol li")
    expect(rows.first).to_be_visible()
    before = rows.all_inner_texts()
    page.get_by_role("button", name="Another order").click()
    expect(page).to_have_url(re.compile(r"seed=\d+"))
    expect(rows).to_have_count(len(before))
    expect(page.get_by_role("button", name="Another order")).to_be_visible()

    # As many reps of each step, and as many rewards at each place.
    def budget(texts):
        return sorted(part for text in texts for part in text.split("\n")[1:])

    assert budget(rows.all_inner_texts()) == budget(before)
    again = rows.all_inner_texts()
    page.reload()
    expect(rows.first).to_be_visible()
    assert rows.all_inner_texts() == again


def test_a_phone_leads_line_by_line_and_goes_on_where_it_was(browser, state, house, trainer, first):
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, storage_state=state
    )
    page = context.new_page()
    page.goto(f"{house.url}/sessions/{first}/script")
    page.get_by_role("button", name="Lead me rep by rep").tap()
    led = page.get_by_role("region", name="Rep by rep")
    expect(led).to_be_visible()
    found = script(trainer, first)
    # What is led by is kept, for the session to be held against.
    assert found["is_kept"]
    width = page.evaluate("document.documentElement.scrollWidth")
    assert width <= 390
    for line in found["lines"][:4]:
        words = "Break" if line["sort"] == "break" else found["titles"][line["step"]]
        expect(led.locator("[aria-live]")).to_contain_text(words)
        led.get_by_role("button", name="Done, next").tap()
    page.reload()
    page.get_by_role("button", name="Lead me rep by rep").tap()
    number = sum(line["sort"] != "break" for line in found["lines"][:5])
    expect(led).to_contain_text(f"{number} of {found['reps']}")
    led.get_by_role("button", name="Back").tap()
    for _ in found["lines"][4:]:
        page.keyboard.press("ArrowRight")
    led.get_by_role("button", name="Done: end well").tap()
    expect(page.get_by_text("Kept as it stands")).to_be_visible()
    context.close()


def test_script_and_session_stand_side_by_side(page, house, trainer, bring, first):
    # What one is led by is kept.
    page.goto(f"{house.url}/sessions/{first}/script")
    page.get_by_role("button", name="Lead me rep by rep").click()
    expect(page.get_by_role("region", name="Rep by rep")).to_be_visible()
    lines = script(trainer, first)["lines"]
    reps = [place for place, line in enumerate(lines) if line["sort"] == "rep"]
    made = bring(played(lines, 2, leave_out={reps[-1]}))
    page.goto(f"{house.url}/sessions/{made}/findings")
    part = page.get_by_role("region", name="As the script said")
    expect(part).to_contain_text(f"{len(reps) - 1} of {len(reps)}")
    expect(part.get_by_text("Left out:", exact=False)).to_be_visible()
    ticks = part.get_by_role("list", name="Script and session").get_by_role("listitem")
    expect(ticks).to_have_count(len(reps))
    # A rep that was done leads to its film.
    ticks.nth(1).get_by_role("link").click()
    expect(page).to_have_url(re.compile(f"/sessions/{made}/bench\\?t="))


def test_a_session_without_a_script_shows_no_such_part(page, house, first):
    page.goto(f"{house.url}/sessions/{first}/findings")
    expect(page.get_by_role("region", name="Fits the criterion")).to_be_visible()
    expect(page.get_by_role("region", name="As the script said")).to_have_count(0)
