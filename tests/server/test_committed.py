"""What is shown is what was committed: nothing of a change that was taken back stays anywhere."""

from __future__ import annotations

import json
import threading

import pytest
from django.db import connection, connections, transaction

from frequens.core import write_session
from frequens.server.coding import edit_store
from frequens.server.coding.edit_store import append_edits, fold
from frequens.server.coding.models import Edit
from frequens.server.findings import store
from frequens.server.findings.models import KeptFindings
from frequens.server.library.sessions import TrainingSession

from .conftest import sent

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def session(make_trainer):
    user = make_trainer()
    return TrainingSession.objects.create(
        workspace=user.workspaces.get(), duration_s=60.0, learner="Thistle"
    )


@pytest.fixture
def wrens(session, client):
    client.force_login(session.workspace.members.get())
    return client


def onset(event_id, t=1.0):
    return {"op": "put", "event": {"id": event_id, "kind": "onset", "t": t}}


def test_a_tap_taken_back_was_never_tapped(session):
    append_edits(session, [("before", onset("before"))])
    # Kept now: the change below goes on from a copy of it.
    assert list(fold(session).taps) == []
    tap = {"op": "put", "event": {**onset("ghost")["event"], "source": "tap", "clock": "phone"}}

    @transaction.atomic
    def half():
        append_edits(session, [("ghost", tap)])
        assert list(fold(session).taps) == ["ghost"]
        raise Broken

    with pytest.raises(Broken):
        half()
    assert list(fold(session).taps) == []


class Broken(Exception):
    """A change that fails half-way."""


@transaction.atomic
def half_a_change(session, event_id):
    append_edits(session, [(f"edit-{event_id}", onset(event_id))])
    # Whoever is in the middle of a change sees it ...
    assert list(fold(session).events) == [event_id]
    raise Broken


def test_a_change_taken_back_is_not_in_the_fold_nor_in_the_findings(session, wrens):
    with pytest.raises(Broken):
        half_a_change(session, "ghost")
    # ... and nobody afterwards.
    append_edits(session, [("real", onset("real", 2.0))])
    assert Edit.objects.get().body["event"]["id"] == "real"
    assert list(fold(session).events) == ["real"]
    found = sent(wrens, "GET", f"/api/sessions/{session.pk}/findings")[1]["findings"]
    assert [rep["id"] for rep in found["reps"]] == ["real"]
    assert b"ghost" not in wrens.get(f"/api/sessions/{session.pk}/export.json").content


def test_a_refused_import_leaves_no_mark_behind(session, wrens):
    path = f"/api/sessions/{session.pk}"
    table = "id,kind,t\r\nghost,onset,1.0\r\nfar,onset,999\r\n"
    answer = wrens.post(f"{path}/import", table, content_type="text/csv")
    assert answer.status_code == 422
    assert "events[1].t" in answer.json()["faults"][0]
    edit = {"client_id": "real", "body": onset("real", 2.0)}
    sent(wrens, "POST", f"{path}/edits", {"edits": [edit]})
    found = sent(wrens, "GET", f"{path}/findings")[1]["findings"]
    assert [rep["id"] for rep in found["reps"]] == ["real"]


@pytest.mark.own_file
def test_a_number_given_twice_does_not_bring_old_findings_back(session):
    """Row ids are given anew after a change was taken back; what is kept must not follow them."""
    append_edits(session, [("first", onset("first"))])
    old = store.measurement_of(session, keep=True)
    number = Edit.objects.get().pk
    Edit.objects.all().delete()
    with connection.cursor() as cursor:
        cursor.execute(
            "UPDATE sqlite_sequence SET seq = %s WHERE name = 'reviews_edit'", [number - 1]
        )
    edit_store._KEPT.clear()
    append_edits(session, [("second", onset("second"))])
    assert Edit.objects.get().pk == number == old.seq
    for found in (store.measurement_of(session), store.measurements_of([session])[session.pk]):
        assert found.findings["counts"]["attempts"] == 1
    assert [r["id"] for r in store.measurement_of(session).findings["reps"]] == ["second"]


def test_findings_kept_wrongly_before_are_measured_anew(session):
    append_edits(session, [("real", onset("real"))])
    number = Edit.objects.get().pk
    wrong = {"reps": [], "counts": {"attempts": 99}}
    KeptFindings.objects.create(
        session=session, state=f"2:{number}:", findings=wrong, outline=wrong
    )
    assert store.measurement_of(session).findings["counts"]["attempts"] == 1
    assert store.measurements_of([session])[session.pk].findings["counts"]["attempts"] == 1


def test_other_threads_never_see_what_is_not_committed(session):
    append_edits(session, [("a", onset("a"))])
    seen: list[list[str]] = []

    def look():
        seen.append(list(fold(session).events))
        connections.close_all()

    with transaction.atomic():
        append_edits(session, [("b", onset("b", 2.0))])
        thread = threading.Thread(target=look)
        thread.start()
        thread.join()
    assert seen == [["a"]]
    assert list(fold(session).events) == ["a", "b"]


def test_marking_a_session_that_is_removed_meanwhile_is_told_as_not_there(session, wrens):
    path = f"/api/sessions/{session.pk}/edits"
    edit = {"client_id": "late", "body": onset("late")}
    real = edit_store.Timeline.of

    def removed_meanwhile(asked):
        TrainingSession.objects.filter(pk=asked.pk).delete()
        return real(asked)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(edit_store.Timeline, "of", removed_meanwhile)
        assert sent(wrens, "POST", path, {"edits": [edit]})[0] == 404
    assert not Edit.objects.exists()


def test_an_import_is_one_edit_that_takes_the_place_of_all_marks(session, wrens):
    append_edits(session, [("old", onset("old"))])
    table = "id,kind,t\r\nb1,onset,1.0\r\nb2,onset,2.0\r\n"
    answer = wrens.post(f"/api/sessions/{session.pk}/import", table, content_type="text/csv")
    assert answer.json()["marks"] == 2
    assert [e.body["op"] for e in Edit.objects.all()] == ["put", "marks"]
    assert list(fold(session).events) == ["b1", "b2"]
    assert TrainingSession.objects.get().marks == 2


@pytest.mark.parametrize("over", [0, 1])
def test_the_most_marks_are_taken_and_one_more_is_refused(session, wrens, over, monkeypatch):
    from frequens.server.coding import open_formats

    monkeypatch.setattr(open_formats, "MOST_EVENTS", 50)
    rows = [f"b{n},onset,{n / 10}" for n in range(50 + over)]
    table = "\r\n".join(["id,kind,t", *rows]) + "\r\n"
    answer = wrens.post(f"/api/sessions/{session.pk}/import", table, content_type="text/csv")
    assert answer.status_code == (422 if over else 200)
    document = {"format": "frequens-session", "version": 1}
    document["events"] = [{"id": f"b{n}", "kind": "onset", "t": n / 10} for n in range(50 + over)]
    answer = wrens.post(
        "/api/sessions/import", json.dumps(document), content_type="application/json"
    )
    assert answer.status_code == (422 if over else 201)
    if over:
        assert answer.json()["faults"] == ["events: at most 50 marks, not 51"]
        assert TrainingSession.objects.count() == 1


@pytest.mark.parametrize("steps", [60, 61])
def test_a_sessions_own_plan_has_the_limits_of_a_shaping_plan(wrens, steps):
    plan = {"approximations": [{"key": f"s{n}"} for n in range(steps)]}
    document = {"format": "frequens-session", "version": 1, "plan": plan, "events": []}
    answer = wrens.post(
        "/api/sessions/import", json.dumps(document), content_type="application/json"
    )
    assert answer.status_code == (201 if steps == 60 else 422)


def test_a_file_too_large_is_refused_with_its_limit(wrens):
    from frequens.server.coding.open_formats import MOST_BYTES

    answer = wrens.post("/api/sessions/import", b" " * (MOST_BYTES + 1), content_type="text/csv")
    assert (answer.status_code, answer.json()["faults"]) == (422, ["larger than 8 MB"])


def test_what_came_in_goes_out_unchanged(session, wrens):
    from bench.measuring import session as made

    document = write_session(made(400))
    answer = wrens.post(
        "/api/sessions/import", json.dumps(document), content_type="application/json"
    )
    out = wrens.get(f"/api/sessions/{answer.json()['session_id']}/export.json").json()
    assert out["events"] == document["events"]
