"""Going: everything as one file, and nothing left of what is removed."""

from __future__ import annotations

import io
import json
import zipfile
from email.message import Message
from pathlib import Path

import pytest
from django.apps import apps
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.sessions.models import Session
from django.db import connection
from django.test import Client

from frequens.core import read_session
from frequens.server.accounts.models import Workspace
from frequens.server.leaving.archive import archive_of
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession
from frequens.server.plans.models import Learner

from .conftest import PASSWORD, sent

OURS = ("films", "plans", "reviews", "workspaces")


def rows():
    """How many rows each of our tables has; empty tables are left out."""
    models = [m for label in OURS for m in apps.get_app_config(label).get_models()]
    counts = {m.__name__: m.objects.count() for m in models if m.__name__ != "Lineage"}
    return {name: n for name, n in counts.items() if n}


def litter():
    root = Path(settings.MEDIA_ROOT)
    return [p for p in root.rglob("*") if p.name != "incoming"] if root.exists() else []


def whole(response) -> bytes:
    return b"".join(response.streaming_content)


@pytest.fixture
def counted(wren, bell):
    body = {"date": "2026-05-03", "trainer": "wren", "counts": {"minutes": 4, "reps": 9, "met": 7}}
    return sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)[1]["session_id"]


def test_the_archive_is_all_of_a_workspace_in_open_formats(wren, coded, counted, film, stranger):
    other = sent(stranger, "POST", "/api/learners", {"name": "Sorrel's secret"})[1]
    note = {"client_id": "n", "body": {"op": "note", "part": "pause_s", "text": "Windy."}}
    sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": [note]})
    answer = wren.get("/api/me/workspace.zip")
    assert 'filename="Saltmarsh-Steading.zip"' in answer["Content-Disposition"]
    with zipfile.ZipFile(io.BytesIO(whole(answer))) as archive:
        assert archive.testzip() is None
        names = archive.namelist()
        texts = {n: archive.read(n) for n in names}
    assert not any(b"secret" in text or other["id"].encode() in text for text in texts.values())
    (marks,) = [
        t for n, t in texts.items() if n.endswith("frequens.json") and str(coded.pk)[:8] in n
    ]
    exported = wren.get(f"/api/sessions/{coded.pk}/export.json")
    assert read_session(json.loads(marks)) == read_session(exported.json())
    (films,) = [t for n, t in texts.items() if n.startswith("films/")]
    assert films == film.original.read_bytes()
    (by_hand,) = [json.loads(t) for n, t in texts.items() if n.endswith("by-hand.json")]
    assert by_hand == {"minutes": 4, "reps": 9, "met": 7}
    assert json.loads(texts["learners.json"])[0]["name"] == "Thistle"
    assert any(b"Windy." in t for n, t in texts.items() if n.endswith("notes.json"))
    history = [json.loads(t) for n, t in texts.items() if n.endswith("history.json")]
    assert sum(map(len, history)) == sum(s.edits.count() for s in TrainingSession.objects.all())
    (plan,) = [json.loads(t) for n, t in texts.items() if n.endswith("frequens-plan.json")]
    assert plan["format"] == "frequens-plan"
    without = zipfile.ZipFile(io.BytesIO(whole(wren.get("/api/me/workspace.zip?films=false"))))
    assert not [n for n in without.namelist() if n.startswith("films/")]


def test_the_archive_is_sent_as_it_is_made(film, wren):
    """A large film goes through in pieces."""
    film.original.write_bytes(bytes(12_000_000))
    parts = list(archive_of(film.workspace, films=True))
    assert max(map(len, parts)) < 2_100_000
    with zipfile.ZipFile(io.BytesIO(b"".join(parts))) as archive:
        assert archive.testzip() is None


@pytest.mark.parametrize(
    "name",
    ["Þistill á bjöllu", "薊と鐘", "Τράγος", "عنزة", "a/b\\c:d", "🐐 bell", "...", "x" * 200],
)
def test_names_in_any_script_survive_a_download(wren, film, name):
    Film.objects.filter(pk=film.pk).update(name=f"{name}.mp4")
    edit = {"client_id": "l", "body": {"op": "facts", "set": {"learner": name}}}
    sent(wren, "POST", f"/api/sessions/{film.session_id}/edits", {"edits": [edit]})
    for path in (f"/api/films/{film.pk}/original", f"/api/sessions/{film.session_id}/export.csv"):
        header = wren.get(path)["Content-Disposition"]
        assert header.isascii()
        message = Message()
        message["Content-Disposition"] = header
        said = message.get_filename()
        assert said
        assert not set('/\\:<>|"') & set(said)
        if name[0] not in ".a":
            assert said.startswith(name[:6].replace(" ", "-"))


def test_a_session_goes_with_its_films_and_its_history(wren, coded):
    assert sent(wren, "DELETE", f"/api/sessions/{coded.pk}")[0] == 204
    left = rows()
    assert not {"TrainingSession", "Edit", "KeptFindings", "Film", "Stage"} & set(left)
    assert litter() == []


@pytest.mark.parametrize("sessions", ["true", "false"])
def test_a_learner_goes_with_its_plans_and_where_asked_its_sessions(wren, coded, counted, sessions):
    learner = Learner.objects.get()
    path = f"/api/learners/{learner.pk}?sessions={sessions}"
    assert sent(wren, "DELETE", path)[0] == 204
    left = rows()
    assert not {"Learner", "Behaviour", "PlanVersion"} & set(left)
    if sessions == "true":
        assert set(left) == {"Workspace", "Membership"}
        assert litter() == []
    else:
        assert left["TrainingSession"] == 2
        assert sent(wren, "GET", f"/api/sessions/{coded.pk}/findings")[1]["findings"]["reps"]


def test_the_only_trainers_account_takes_everything_along(wren, coded, counted):
    assert sent(wren, "POST", "/api/me/remove", {"password": "not this"})[0] == 403
    assert rows()["Film"] == 1
    assert sent(wren, "POST", "/api/me/remove", {"password": PASSWORD})[0] == 204
    assert rows() == {}
    assert litter() == []
    assert not get_user_model().objects.exists()
    assert not Session.objects.exists()
    assert wren.get("/api/me").status_code == 401


def test_an_account_leaves_no_name_where_others_go_on(wren, coded, make_trainer):
    make_trainer("teasel")
    named = {"client_id": "t", "body": {"op": "facts", "set": {"trainer": "wren"}}}
    sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": [named]})
    elsewhere = Client()
    elsewhere.force_login(get_user_model().objects.get(username="wren"))
    assert sent(wren, "POST", "/api/me/remove", {"password": PASSWORD})[0] == 204
    assert elsewhere.get("/api/me").status_code == 401
    assert rows()["Film"] == 1
    teasel = Client()
    teasel.force_login(get_user_model().objects.get(username="teasel"))
    assert sent(teasel, "GET", f"/api/sessions/{coded.pk}")[1]["trainer"] == ""
    with connection.cursor() as cursor:
        tables = connection.introspection.table_names(cursor)
        for table in tables:
            cursor.execute(f'SELECT * FROM "{table}"')
            assert "wren" not in repr(cursor.fetchall()), table


def test_a_workspace_goes_with_accounts_that_have_no_other(wren, coded, make_trainer, stranger):
    make_trainer("teasel")
    both = make_trainer("heron")
    Workspace.objects.get(name="Upper Meadow").members.add(both)
    kept = sent(stranger, "POST", "/api/learners", {"name": "Sorrel"})[1]
    assert sent(wren, "POST", "/api/me/workspace/remove", {"password": PASSWORD})[0] == 204
    names = set(get_user_model().objects.values_list("username", flat=True))
    assert names == {"heron", "sorrel"}
    assert rows() == {"Learner": 1, "Workspace": 1, "Membership": 2}
    assert sent(stranger, "GET", "/api/learners")[1][0]["id"] == kept["id"]
    assert litter() == []


@pytest.mark.long
def test_what_was_removed_is_not_in_the_database_file_any_more(make_house):
    house = make_house()
    try:
        trainer = house.start().trainer()
        words = "PimpernelTheGoose"
        learner = trainer.ask("POST", "/api/learners", json={"name": words}).json()
        document = {"format": "frequens-session", "version": 1, "recording": {"duration_s": 60.0}}
        document["events"] = []
        made = trainer.ask("POST", "/api/sessions/import", json=document).json()["session_id"]
        body = {"op": "put", "event": {"id": "n", "kind": "note", "t": 1.0, "text": words}}
        edits = {"edits": [{"client_id": f"c{words}", "body": body}]}
        trainer.ask("POST", f"/api/sessions/{made}/edits", json=edits)
        trainer.ask("DELETE", f"/api/sessions/{made}")
        trainer.ask("DELETE", f"/api/learners/{learner['id']}")
        house.stop()
        # What is started and stopped has folded its log in.
        house.start().stop()
        for path in house.home.glob("frequens.sqlite3*"):
            assert words.encode() not in path.read_bytes(), path
    finally:
        house.kill()


def test_a_film_at_work_is_removed_with_what_the_worker_still_writes(
    upload, shot, wren, monkeypatch
):
    from frequens.server.ingest import intake

    film_id = upload(shot.read_bytes()).json()["id"]
    run = intake.run_stage

    def removed_meanwhile(name, task, *args, **more):
        done = run(name, task, *args, **more)
        if name == "index":
            assert sent(wren, "DELETE", f"/api/films/{film_id}")[0] == 204
            Path(task["index"]).parent.mkdir(parents=True, exist_ok=True)
            Path(task["index"]).write_text("{}")
        return done

    monkeypatch.setattr(intake, "run_stage", removed_meanwhile)
    intake.take_in(film_id)
    assert not Film.objects.exists()
    assert litter() == []


@pytest.mark.parametrize("state", Film.State.values)
def test_cancel_and_resume_do_what_they_say_in_every_state(film, wren, state):
    """Cancelled is only what was under way; gone on with only what was stopped or lacks a stage."""
    Film.objects.filter(pk=film.pk).update(state=state)
    stopped = sent(wren, "POST", f"/api/films/{film.pk}/cancel")[1]["state"]
    under_way = state in ("receiving", "waiting", "working")
    assert stopped == ("cancelled" if under_way else state)
    Film.objects.filter(pk=film.pk).update(state=state)
    gone_on = sent(wren, "POST", f"/api/films/{film.pk}/resume")[1]["state"]
    assert gone_on == ("waiting" if state in ("cancelled", "failed") else state)


def test_a_ready_film_whose_copy_failed_is_gone_on_with(film, wren):
    film.stages.filter(name="review").update(state="failed", fault_text="The disk was full.")
    assert sent(wren, "POST", f"/api/films/{film.pk}/resume")[1]["state"] == "waiting"
    assert film.stages.get(name="review").state == "waiting"


def test_a_worker_that_was_overtaken_writes_nothing_any_more(film, wren):
    from frequens.server.ingest import intake
    from frequens.server.library.models import Stage

    Film.objects.filter(pk=film.pk).update(state="waiting", lease_until=None)
    mine = intake._claim(str(film.pk))
    Film.objects.filter(pk=film.pk).update(state="waiting", lease_until=None)
    theirs = intake._claim(str(film.pk))
    assert mine.holder != theirs.holder
    intake._finish(mine)
    intake._fail(mine, intake.FilmFault("crashed", "The film made the decoder crash."))
    film.refresh_from_db()
    assert (film.state, film.holder) == ("working", theirs.holder)
    assert film.original.exists()
    assert not Stage.objects.filter(film=film, state="failed").exists()
    intake._finish(theirs)
    film.refresh_from_db()
    assert film.state == "ready"
