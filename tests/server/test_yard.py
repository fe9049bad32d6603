"""What a phone takes along to the yard, and the sessions it brings back: each once, and whole."""

from __future__ import annotations

import datetime as dt
import uuid

import pytest

from frequens.core.decisions.judging import judge
from frequens.core.formats.session_document import read_plan
from frequens.core.planning.shaping import session_plan
from frequens.server.findings.judgements import remembered
from frequens.server.library.sessions import TrainingSession
from frequens.server.plans.models import Behaviour

from .conftest import sent

BEGAN = "2026-05-04T23:40:00+02:00"


@pytest.fixture
def led(wren, bell):
    """A session a phone led, announced."""

    def lead(began_at=BEGAN, client=wren, session_id=None, behaviour_id=None):
        pk = session_id or str(uuid.uuid4())
        body = {"behaviour_id": behaviour_id or bell["id"], "began_at": began_at}
        return pk, *sent(client, "PUT", f"/api/yard/sessions/{pk}", body)

    return lead


def tap(kind, t, **fields):
    event = {"id": f"{kind}-{t}", "kind": kind, "t": t, "width": 2, "source": "tap", **fields}
    return {"client_id": f"c-{kind}-{t}", "body": {"op": "put", "event": event}}


def steps_of(behaviour_id):
    plan = session_plan(Behaviour.objects.get(pk=behaviour_id).current.document)
    return [step["key"] for step in plan["approximations"]]


def worked(wren, pk, step, met):
    """Five reps at a step, some of which fit."""
    taps = [tap("bout_start", 1), tap("criterion", 1, approximation=step)]
    for n in range(5):
        t = 5 + 4 * n
        taps.append(tap("onset", t, met=n < met))
        if n < met:
            taps.append(tap("reward", t))
    end = {"client_id": "end", "body": {"op": "facts", "set": {"end_s": 25}}}
    return sent(wren, "POST", f"/api/sessions/{pk}/edits", {"edits": [*taps, end]})


def test_a_session_is_led_once_however_often_it_is_announced(led, wren, bell):
    pk, status, said = led()
    assert status == 201
    again = led(session_id=pk)
    assert (again[1], again[2]["id"]) == (200, said["id"])
    session = TrainingSession.objects.get()
    # The day and the time on the phone's own clock.
    assert (str(session.date), session.summary["time"]) == ("2026-05-04", "23:40")
    assert session.led_at.isoformat() == "2026-05-04T21:40:00+00:00"
    assert str(session.plan_version.behaviour_id) == bell["id"]
    assert session.trainer_now == "wren"
    assert (session.learner_now, session.behaviour_now) == ("Thistle", bell["name"])


def test_its_taps_are_measured_and_judged_like_any_session(led, wren, bell):
    pk, *_ = led()
    step = steps_of(bell["id"])[0]
    assert worked(wren, pk, step, met=3)[0] == 200
    _, said = sent(wren, "GET", f"/api/sessions/{pk}/findings")
    findings = said["findings"]
    assert findings["counts"]["attempts"] == 5
    assert findings["counts"]["rewards"] == 3
    # Nothing is claimed of markers nobody placed.
    assert findings["counts"]["markers"] == 0
    judgement = sent(wren, "GET", f"/api/sessions/{pk}/judgement")[1]["judgement"]
    assert (judgement["step"], judgement["record"]["met"], judgement["record"]["judged"]) == (
        step,
        3,
        5,
    )


def test_a_kit_judges_as_the_server_does(led, wren, bell):
    first, *_ = led("2026-05-03T18:00:00+02:00")
    step = steps_of(bell["id"])[0]
    worked(wren, first, step, met=5)
    second, *_ = led("2026-05-04T18:00:00+02:00")
    worked(wren, second, step, met=1)
    behaviour = Behaviour.objects.get(pk=bell["id"])
    document = session_plan(behaviour.current.document)
    history = remembered(behaviour.pk, document, TrainingSession.objects.latest("date").date)
    assert [(len(d.trials), d.date) for d in history] == [(5, "2026-05-03"), (5, "2026-05-04")]
    own = judge(history, read_plan(document))
    theirs = sent(wren, "GET", f"/api/sessions/{second}/judgement")[1]["judgement"]
    assert (own.decision, own.why.code) == (theirs["decision"], theirs["why"]["code"])
    assert own.record.judged == 10


@pytest.mark.parametrize(("days", "count"), [(14, 1), (15, 0)])
def test_what_is_forgotten_is_not_taken_along(led, wren, bell, days, count):
    pk, *_ = led("2026-05-04T18:00:00+02:00")
    worked(wren, pk, steps_of(bell["id"])[0], met=2)
    document = session_plan(Behaviour.objects.get().current.document)
    day = dt.date(2026, 5, 4) + dt.timedelta(days=days)
    assert len(remembered(bell["id"], document, day)) == count


def test_the_kit_holds_all_that_is_needed(led, wren, bell):
    _, [kit] = sent(wren, "GET", "/api/yard")
    assert (kit["learner"], kit["behaviour"], kit["card"]) == ("Thistle", bell["name"], None)
    keys = [step["key"] for step in kit["plan"]["approximations"]]
    assert keys == steps_of(bell["id"]) == list(kit["criteria"])
    assert kit["plan"]["rule"]["kind"] in ("run", "share", "block", "percentile", "comfort")
    assert kit["plan"]["numbers"]["misses"] == 5
    pk, *_ = led()
    worked(wren, pk, keys[0], met=5)
    _, [kit] = sent(wren, "GET", "/api/yard")
    assert kit["card"]["criterion"] in keys
    assert kit["card"]["pieces"] > 0
    assert kit["card"]["sentence"]


def test_the_trainers_own_numbers_are_taken_along(led, wren, bell):
    pk, *_ = led()
    worked(wren, pk, steps_of(bell["id"])[0], met=5)
    changed = {"op": "facts", "set": {"next_session": {"pieces": 7, "minutes": 2}}}
    sent(
        wren,
        "POST",
        f"/api/sessions/{pk}/edits",
        {"edits": [{"client_id": "changed", "body": changed}]},
    )
    _, [kit] = sent(wren, "GET", "/api/yard")
    assert (kit["card"]["pieces"], kit["card"]["minutes"]) == (7, 2)


def test_strangers_take_nothing_along_and_bring_nothing(led, stranger, wren, bell, client):
    assert sent(stranger, "GET", "/api/yard")[1] == []
    assert led(client=stranger)[1] == 404
    pk, *_ = led()
    theirs = sent(stranger, "POST", "/api/learners", {"name": "Sedge"})[1]
    plan = {"learner_id": theirs["id"], "name": "Look", "document": {}}
    other = sent(stranger, "POST", "/api/behaviours", plan)
    if other[0] == 201:
        assert led(client=stranger, session_id=pk, behaviour_id=other[1]["id"])[1] == 409
    assert client.get("/api/yard").status_code == 401


def test_another_kind_of_session_is_not_taken_over(led, wren, film):
    assert led(session_id=str(film.session_id))[1] == 409


@pytest.mark.parametrize("began_at", ["2026-05-04T18:00:00", "yesterday", None])
def test_an_instant_without_its_zone_is_refused(led, began_at):
    assert led(began_at)[1] == 422
    assert not TrainingSession.objects.exists()
