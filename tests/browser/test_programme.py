"""From the plan to its days: rungs and stages, the calendar, and an address of one's own."""

from __future__ import annotations

import datetime as dt
import re

import icalendar
import pytest
import requests
from playwright.sync_api import expect

from frequens.core.planning.shaping import session_plan
from tests.core.training_days import Day

PARTS = [{"key": "take", "title": "takes it"}, {"key": "drop", "title": "drops it in"}]
PLAN = {
    "format": "frequens-plan",
    "version": 1,
    "behaviour": "Post the letter",
    "rule": {"kind": "run", "need": 5, "miss": 3},
    "chain": {"direction": "backward", "parts": ["takes it", "drops it in"]},
    "approximations": [
        {"key": "drop", "title": "Drops it in"},
        {
            "key": "both",
            "title": "Takes it, drops it in",
            "parts": PARTS,
            "quantity": {"name": "height", "unit": "cm", "better": "more"},
        },
    ],
}


@pytest.fixture(scope="module")
def learner(trainer):
    body = {"name": "Sedge", "size": "medium", "withers_cm": 61}
    return trainer.ask("POST", "/api/learners", json=body).json()


@pytest.fixture(scope="module")
def behaviour(trainer, learner):
    body = {"learner_id": learner["id"], "document": PLAN, "name": PLAN["behaviour"]}
    return trainer.ask("POST", "/api/behaviours", json=body).json()["id"]


def letters(n, *came):
    """A day of the whole chain; of each rep its height, and whether the letter was dropped in."""
    day = Day(session_plan(PLAN), n).at("both")
    for height, is_dropped in came:
        start = day.now + 3
        day.mark("onset", start, met=is_dropped, value=height)
        if is_dropped:
            day.mark("part", start + 1, part="drop").mark("marker", start + 1.3, marker="event")
            day.mark("reward", start + 2.5)
        day.mark("offset", start + 1.8)
        day.now = day.last
    return day


@pytest.fixture(scope="module")
def days(trainer, behaviour):
    """Two days: every letter at 12 cm is posted, then half of them."""
    found = []
    for day in (letters(1, *[(12, True)] * 6), letters(3, *[(12, True), (11, False)] * 5)):
        made = trainer.ask("POST", "/api/sessions/import", json=day.document()).json()["session_id"]
        path = f"/api/behaviours/{behaviour}/sessions"
        assert trainer.ask("POST", path, json={"session_id": made}).status_code == 204
        found.append(made)
    return found


def kept(trainer, behaviour):
    return trainer.ask("GET", f"/api/behaviours/{behaviour}").json()["plan"]["document"]


def wait_kept(page):
    expect(page.locator("[data-keeping]")).to_have_attribute("data-keeping", "saved")


def test_rungs_are_written_at_the_step_and_stand_beside_what_was_measured(
    page, house, trainer, behaviour, days
):
    page.goto(f"{house.url}/plans/{behaviour}?step=both")
    page.get_by_label("Rungs of height").fill("10, 20; 30 40 high")
    page.get_by_label("Rungs of height").blur()
    page.get_by_label("Limit").fill("25")
    wait_kept(page)
    (ladder,) = kept(trainer, behaviour)["ladders"]
    assert ladder == {"name": "height", "rungs": [10, 20, 30, 40], "limit": 25}
    # Another name takes its rungs along.
    page.get_by_label("What is measured").fill("slot height")
    wait_kept(page)
    assert kept(trainer, behaviour)["ladders"][0]["name"] == "slot height"
    page.goto(f"{house.url}/logbook/{behaviour}")
    section = page.get_by_role("region", name="Rung by rung: slot height")
    found = trainer.ask("GET", f"/api/logbook/{behaviour}").json()["ladders"][0]
    rung = found["rungs"][found["next"]]
    expect(section).to_contain_text(f"{rung['value']:g} cm ← next")
    # Both days measured 16 heights; five of the last ten are 12 cm, and all reached 10.
    expect(section.get_by_role("listitem").last).to_contain_text("10 of 10")
    expect(section.get_by_role("listitem").first).to_contain_text("0 of 10")
    # The first day's six went up a rung, the second's lows came back down.
    assert (found["values"], found["middle"], rung["value"]) == (16, 11.5, 10)


def test_the_chain_says_where_it_breaks_on_logbook_and_card(page, house, behaviour, days):
    said = "It breaks before drops it in. A few reps of that part alone, then takes it, then drops"
    page.goto(f"{house.url}/logbook/{behaviour}")
    section = page.get_by_role("region", name="The chain, link by link")
    expect(section).to_contain_text(said)
    # Of the ten latest tries; the day before is not asked.
    expect(section).to_contain_text("5 of 10 went on")
    page.goto(f"{house.url}/sessions/{days[-1]}/next")
    expect(page.get_by_text(said)).to_be_visible()
    page.goto(f"{house.url}/plans/{behaviour}")
    stair = page.locator("[data-step=both]")
    expect(stair).to_contain_text("takes it")
    expect(stair).to_contain_text("drops it in")


@pytest.mark.long
def test_heights_are_worked_out_from_the_withers(page, house, trainer, learner):
    body = {"learner_id": learner["id"], "name": "Over the bar", "document": PLAN}
    made = trainer.ask("POST", "/api/behaviours", json=body).json()["id"]
    page.goto(f"{house.url}/plans/{made}?step=drop")
    page.get_by_role("button", name="distance", exact=True).click()
    page.get_by_text("Work out heights and spans").click()
    page.get_by_label("Percent of its height at the withers").fill("50")
    expect(page.get_by_text("20 → 30 cm")).to_be_visible()
    page.get_by_role("button", name="Put these in as steps").first.click()
    wait_kept(page)
    aims = [s["quantity"]["target"] for s in kept(trainer, made)["approximations"][1:3]]
    assert aims == [20, 30]


def test_stages_are_written_and_stand_on_their_days(page, house, trainer, behaviour, days):
    page.goto(f"{house.url}/plans/{behaviour}")
    page.get_by_role("button", name="It goes by stages").click()
    page.get_by_label("Name of stage 1").fill("The slot near by")
    page.get_by_label("What ends stage 1").select_option("both")
    page.get_by_label("Sessions a week", exact=True).fill("3")
    page.get_by_label("First day").fill(dt.date.today().isoformat())
    page.get_by_role("group", name="Days of rest").get_by_role("button", name="Su").click()
    wait_kept(page)
    plan = kept(trainer, behaviour)
    assert plan["stages"] == [{"name": "The slot near by", "kind": "getting_used", "until": "both"}]
    assert plan["calendar"] == {"a_week": 3, "begins": dt.date.today().isoformat(), "rest": [6]}
    found = trainer.ask("GET", f"/api/calendar/{behaviour}").json()["calendar"]
    assert len(found["planned"]) >= 6
    page.get_by_role("link", name="to the calendar").click()
    first = found["planned"][0]["day"]
    expect(page.locator(f"[data-day='{dt.date.today().isoformat()}']")).to_be_visible()
    if page.locator(f"[data-day='{first}']").count() == 0:
        page.get_by_role("button", name="The month after").click()
    day = page.locator(f"[data-day='{first}']")
    expect(
        day.get_by_role("link", name=re.compile("Sedge.*The slot near by, 1 of 6"))
    ).to_be_visible()
    taught = page.get_by_role("listitem").filter(has_text="Sedge · Post the letter").last
    expect(taught).to_contain_text("0 of 6 sessions, ends")
    # Put aside, its days are put aside with it.
    page.get_by_role("checkbox", name="Sedge · Post the letter").uncheck()
    expect(day.get_by_role("link", name=re.compile("Sedge.*The slot near by"))).to_have_count(0)
    # What was held leads to its findings, in the month of its day.
    page.goto(f"{house.url}/calendar?month=2026-05")
    page.locator("[data-day='2026-05-01']").get_by_role("link", name=re.compile("Sedge")).click()
    expect(page).to_have_url(re.compile(f"/sessions/{days[0]}/findings"))


@pytest.mark.long
def test_an_address_for_ones_own_calendar_until_it_is_taken_back(page, house, trainer, learner):
    calendar = {"a_week": 3, "begins": dt.date.today().isoformat()}
    stages = [{"name": "The slot by the gate", "kind": "getting_used", "until": "both"}]
    document = {**PLAN, "stages": stages, "calendar": calendar}
    body = {"learner_id": learner["id"], "name": "Post the parcel", "document": document}
    behaviour = trainer.ask("POST", "/api/behaviours", json=body).json()["id"]
    page.goto(f"{house.url}/calendar")
    page.get_by_role("button", name="Make an address").click()
    url = page.get_by_label("Your address").input_value()
    assert url.startswith(f"{house.url}/calendar/")
    # Another device, which nobody is logged in on.
    answer = requests.get(url, timeout=30)
    events = icalendar.Calendar.from_ical(answer.content).walk("VEVENT")
    assert any(str(event["uid"]).startswith(f"planned-{behaviour}") for event in events)
    page.reload()
    expect(page.get_by_text("One was made on")).to_be_visible()
    expect(page.get_by_label("Your address")).to_have_count(0)
    page.get_by_role("button", name="Take it back").click()
    expect(page.get_by_role("button", name="Make an address")).to_be_visible()
    assert requests.get(url, timeout=30).status_code == 404
