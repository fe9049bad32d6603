"""The card of the next session, its calendar entry, and what waits today."""

from __future__ import annotations

import datetime as dt

import pytest
import vobject
from django.utils import timezone

from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession

from .conftest import put, sent


@pytest.fixture
def coded(wren, bell, film):
    """Five good reps in a row at the second step of the bell plan."""
    session_id = str(film.session_id)
    edits = [put("c", "criterion", 0, film, approximation="nose")]
    for n in range(5):
        at = 10 + 40 * n
        edits += [
            put(f"b{n}", "onset", at, film, met=True),
            put(f"m{n}", "marker", at + 9, film, marker="event"),
            put(f"r{n}", "reward", at + 25, film),
        ]
    assert not sent(wren, "POST", f"/api/sessions/{session_id}/edits", {"edits": edits})[1][
        "refused"
    ]
    sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", {"session_id": session_id})
    return session_id


def change(client, session_id, **values):
    body = {"op": "facts", "set": {"next_session": values}}
    edit = {"client_id": f"change-{sorted(values)}-{values}"[:64], "body": body}
    return sent(client, "POST", f"/api/sessions/{session_id}/edits", {"edits": [edit]})[1]


def card(client, session_id):
    status, found = sent(client, "GET", f"/api/plans/next/{session_id}")
    assert status == 200
    return found


def test_a_session_is_judged_and_says_on_what_it_rests(wren, coded):
    found = sent(wren, "GET", f"/api/sessions/{coded}/judgement")[1]
    said = found["judgement"]
    assert said["decision"] == "raise"
    assert said["headline"].startswith("Raise from “Nose on the rope”: 5 of 5 fit")
    assert [(r["session_id"], r["met"], r["judged"]) for r in found["rests_on"]] == [(coded, 5, 5)]
    assert found["titles"]["mouth"] == "Mouth on the rope"


def test_the_card_follows_the_plan_the_learner_and_the_sentence(wren, coded):
    found = card(wren, coded)
    assert (found["warm_up"], found["criterion"]) == ("nose", "mouth")
    assert found["titles"]["mouth"] == "Mouth on the rope"
    assert (found["minutes"], found["reps"]) == (3.0, 15)
    assert sum(found["placement"].values()) == found["pieces"]
    assert found["cautions"][0].startswith("Thistle is pregnant.")


def test_what_the_trainer_changes_is_kept_beside_the_rule(wren, coded):
    assert not change(wren, coded, minutes=1.5, criterion="nose")["refused"]
    found = card(wren, coded)
    assert found["changed"] == {"minutes": 1.5, "criterion": "nose"}
    assert (found["minutes"], found["criterion"]) == (3.0, "mouth")


@pytest.mark.parametrize(
    ("values", "fault"),
    [
        ({"minutes": 0}, "next_session.minutes"),
        ({"at": "tomorrow"}, "next_session.at: not a day and time"),
        ({"mood": "good"}, "next_session.mood: unknown key"),
    ],
)
def test_a_change_that_cannot_be_is_refused_by_name(wren, coded, values, fault):
    assert fault in str(change(wren, coded, **values)["refused"])


def test_the_calendar_entry_is_read_back_by_another_library(wren, coded):
    change(wren, coded, at="2026-12-01T09:30", minutes=2, note="The short rope.")
    answer = wren.get(f"/api/plans/next/{coded}.ics")
    assert answer["Content-Type"].startswith("text/calendar")
    event = vobject.readOne(answer.content.decode()).vevent
    assert event.summary.value == "Thistle · Ring the ship's bell"
    assert event.dtstart.value.replace(tzinfo=None) == dt.datetime(2026, 12, 1, 9, 30)
    assert event.dtend.value - event.dtstart.value == dt.timedelta(minutes=15)
    lines = event.description.value.split("\n")
    assert "Then: Mouth on the rope." in lines
    assert "Where: location yard." in lines
    assert "At most 2 min or 15 reps." in lines
    assert lines[-1] == "The short rope."


def test_without_a_day_the_entry_is_tomorrow(wren, coded):
    event = vobject.readOne(wren.get(f"/api/plans/next/{coded}.ics").content.decode()).vevent
    assert event.dtstart.value.date() == timezone.now().date() + dt.timedelta(days=1)


def test_today_lists_films_to_code_and_one_line_for_each_behaviour(wren, bell, film):
    waits = sent(wren, "GET", "/api/today")[1]
    assert [w["session_id"] for w in waits["to_code"]] == [str(film.session_id)]
    (line,) = waits["lines"]
    assert (line["learner"], line["session_id"], line["is_due"]) == ("Thistle", None, False)


@pytest.mark.parametrize("how_many", [2, 40])
def test_films_to_code_cost_today_no_more_questions_the_more_there_are(
    wren, bell, film, how_many, django_assert_max_num_queries
):
    kept = film.index_path.read_text()
    for n in range(how_many - 1):
        session = TrainingSession.objects.create(workspace=film.workspace, summary={"marks": 0})
        another = Film.objects.create(workspace=film.workspace, session=session, name=f"{n}.mp4")
        another.folder.mkdir(parents=True)
        another.index_path.write_text(kept)
    marked = TrainingSession.objects.create(workspace=film.workspace, summary={"marks": 3})
    Film.objects.create(workspace=film.workspace, session=marked, name="coded.mp4")
    with django_assert_max_num_queries(12):
        waits = sent(wren, "GET", "/api/today")[1]["to_code"]
    assert len(waits) == how_many
    assert str(marked.pk) not in {one["session_id"] for one in waits}


def test_today_says_the_last_verdict_and_what_is_due(wren, coded):
    change(wren, coded, at=f"{timezone.localdate()}T17:00")
    waits = sent(wren, "GET", "/api/today")[1]
    assert waits["to_code"] == []
    (line,) = waits["lines"]
    assert (line["verdict"], line["is_due"]) == ("raise", True)
    change(wren, coded, at=f"{timezone.localdate() + dt.timedelta(days=3)}T17:00")
    assert not sent(wren, "GET", "/api/today")[1]["lines"][0]["is_due"]


def test_a_stranger_sees_no_card_no_entry_and_an_empty_day(stranger, coded):
    assert sent(stranger, "GET", f"/api/plans/next/{coded}")[0] == 404
    assert stranger.get(f"/api/plans/next/{coded}.ics").status_code == 404
    nothing = {"to_code": [], "to_code_again": [], "lines": []}
    assert sent(stranger, "GET", "/api/today")[1] == nothing
