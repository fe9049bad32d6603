"""The calendar: days held and planned, stages, and the address calendar programs ask at."""

from __future__ import annotations

import datetime as dt
import re

import icalendar
import pytest
import vobject
from django.test import Client

from frequens.server.plans import calendar_feed, stage_days
from frequens.server.plans.models import CalendarAddress
from tests.core.training_days import FIRST, Day

from .conftest import sent
from .test_next_session import change

TODAY = FIRST + dt.timedelta(days=6)


@pytest.fixture(autouse=True)
def today(monkeypatch):
    """The days of the tests, a week after the first session."""
    for place in (stage_days, calendar_feed):
        monkeypatch.setattr(place.timezone, "localdate", lambda *at: TODAY)


@pytest.fixture
def staged(wren, plan):
    """The plan with two stages, kept as the page keeps it."""
    behaviour = sent(wren, "GET", "/api/behaviours")[1][0]["id"]
    found = sent(wren, "GET", f"/api/behaviours/{behaviour}")[1]["plan"]
    stages = [
        {"name": "Rope in sight", "kind": "getting_used", "until": "look"},
        {"name": "Short goes", "kind": "short_goes", "goes": 3},
    ]
    calendar = {"begins": FIRST.isoformat(), "a_week": 3, "rest": [6]}
    document = {**found["document"], "stages": stages, "calendar": calendar}
    body = {"number": found["number"], "revision": found["revision"], "document": document}
    status, answer = sent(wren, "PUT", f"/api/behaviours/{behaviour}/plan", body)
    assert status == 200, answer
    return behaviour


def days(client):
    status, found = sent(client, "GET", "/api/calendar")
    assert status == 200, found
    return found


def test_sessions_held_and_planned_by_stage(wren, plan, filmed, staged):
    session = filmed(Day(plan, 1).at("look").fits(6))
    (one,) = days(wren)["behaviours"]
    calendar = one["calendar"]
    assert [held["id"] for held in calendar["done"]] == [str(session)]
    assert [span["name"] for span in calendar["stages"]] == ["Rope in sight", "Short goes"]
    # The judgement went on from its step; its weeks and sessions are not over.
    assert calendar["stages"][0]["is_judged"]
    assert (calendar["now"], calendar["stages"][0]["ended"]) == (0, None)
    assert [p["stage"] for p in calendar["planned"]] == [0] * 5 + [1] * 3
    assert all(dt.date.fromisoformat(p["day"]).weekday() != 6 for p in calendar["planned"])
    assert one == sent(wren, "GET", f"/api/calendar/{staged}")[1]


def test_the_day_the_trainer_set_is_the_first_one(wren, plan, filmed, staged):
    session = filmed(Day(plan, 1).at("look").fits(3))
    at = dt.datetime.combine(TODAY + dt.timedelta(days=3), dt.time(7, 30))
    change(wren, session, at=at.isoformat())
    (one,) = days(wren)["behaviours"]
    assert one["due"] == at.isoformat()
    assert one["calendar"]["planned"][0]["day"] == at.date().isoformat()


def test_today_says_what_the_calendar_plans(wren, plan, filmed, staged, monkeypatch):
    filmed(Day(plan, 1).at("look").fits(3))
    first = days(wren)["behaviours"][0]["calendar"]["planned"][0]["day"]
    (line,) = sent(wren, "GET", "/api/today")[1]["lines"]
    assert (line["planned"], line["due"]) == (first, None)
    # A Sunday of rest, and the Monday after it.
    for today, is_due in ((dt.date(2026, 5, 10), False), (dt.date(2026, 5, 11), True)):
        monkeypatch.setattr(stage_days.timezone, "localdate", lambda *at, today=today: today)
        (line,) = sent(wren, "GET", "/api/today")[1]["lines"]
        assert line["is_due"] == is_due


def test_another_workspace_has_days_of_its_own(wren, stranger, plan, filmed, staged):
    filmed(Day(plan, 1).at("look").fits(3))
    assert days(stranger)["behaviours"] == []
    assert sent(stranger, "GET", f"/api/calendar/{staged}")[0] == 404


def test_the_calendar_asks_once_for_everything(
    wren, plan, filmed, staged, django_assert_max_num_queries
):
    for n in (1, 2, 3, 4):
        filmed(Day(plan, n).at("look").fits(3))
    days(wren)
    with django_assert_max_num_queries(16):
        days(wren)


def subscribe(client):
    status, found = sent(client, "POST", "/api/calendar/address")
    assert status == 200
    return re.sub(r"^https?://[^/]+", "", found["url"])


def test_the_address_needs_no_login_and_two_libraries_read_it(wren, plan, filmed, staged):
    session = filmed(Day(plan, 1).at("look").fits(3))
    at = dt.datetime.combine(TODAY + dt.timedelta(days=2), dt.time(7, 30))
    change(wren, session, at=at.isoformat())
    answer = Client().get(subscribe(wren))
    assert answer.status_code == 200
    assert answer["Content-Type"].startswith("text/calendar")
    events = {
        str(event["uid"]): event
        for event in icalendar.Calendar.from_ical(answer.content).walk("VEVENT")
    }
    assert len(events) == len(answer.content.decode().split("BEGIN:VEVENT")) - 1
    assert f"held-{session}@frequens" in events
    planned = [event for uid, event in events.items() if uid.startswith(f"planned-{staged}")]
    (timed,) = [event for event in planned if isinstance(event.decoded("dtstart"), dt.datetime)]
    assert timed.decoded("dtstart").replace(tzinfo=None) == at
    # Read back by another library: the same events on the same days.
    other = {e.uid.value: e for e in vobject.readOne(answer.content.decode()).vevent_list}
    assert set(other) == set(events)
    for uid, event in events.items():
        assert other[uid].dtstart.value == event.decoded("dtstart")
        assert other[uid].summary.value == str(event["summary"])
    ends = [str(event["summary"]) for uid, event in events.items() if uid.startswith("stage-")]
    assert any("Rope in sight ends at the earliest" in said for said in ends)


def test_when_days_move_the_same_events_move(wren, plan, filmed, staged):
    filmed(Day(plan, 1).at("look").fits(3))
    address = subscribe(wren)
    before = planned_days(address)
    filmed(Day(plan, 6).at("look").fits(3))
    after = planned_days(address)
    # One session more was held: its event is gone, the others are the same ones.
    assert len(set(before) - set(after)) == 1
    assert set(after) < set(before)


def planned_days(address):
    found = icalendar.Calendar.from_ical(Client().get(address).content).walk("VEVENT")
    return {str(e["uid"]): e.decoded("dtstart") for e in found if "planned-" in str(e["uid"])}


def test_an_address_that_was_revoked_or_replaced_leads_nowhere(wren, plan, staged):
    first = subscribe(wren)
    assert days(wren)["subscribed"] is not None
    second = subscribe(wren)
    assert first != second
    assert Client().get(first).status_code == 404
    assert Client().get(second).status_code == 200
    assert sent(wren, "DELETE", "/api/calendar/address")[0] == 204
    assert Client().get(second).status_code == 404
    assert days(wren)["subscribed"] is None


def test_only_a_digest_of_the_secret_is_kept(wren, plan, staged):
    address = subscribe(wren)
    secret = address.removeprefix("/calendar/").removesuffix(".ics")
    kept = CalendarAddress.objects.get()
    assert secret not in kept.secret_digest
    assert Client().get(f"/calendar/{kept.secret_digest}.ics").status_code == 404
    assert len(secret) >= 43


def test_who_has_left_sees_nothing_any_more(wren, trainer, plan, staged):
    address = subscribe(wren)
    trainer.is_active = False
    trainer.save()
    assert Client().get(address).status_code == 404
    trainer.is_active = True
    trainer.save()
    trainer.workspaces.clear()
    assert Client().get(address).status_code == 404


def test_an_address_is_only_read(wren, plan, staged):
    address = subscribe(wren)
    assert Client().head(address).status_code == 200
    assert Client().delete(address).status_code == 405
    assert Client().get("/calendar/guess.ics").status_code == 404


@pytest.mark.parametrize(
    ("stage", "fault"),
    [
        ({"name": "a", "until": "nowhere"}, "stages[0].until: not in the plan: 'nowhere'"),
        ({"name": "a", "least_weeks": -1}, "stages[0].least_weeks"),
        ({"kind": "own"}, "stages[0].name: missing"),
        ({"name": "a", "kind": "hurry"}, "stages[0].kind"),
    ],
)
def test_a_stage_that_cannot_be_is_named(wren, staged, stage, fault):
    document = {"format": "frequens-plan", "version": 1, "stages": [stage]}
    faults = sent(wren, "POST", "/api/plans/read", {"document": document})[1]["faults"]
    assert any(one.startswith(fault) for one in faults), faults
