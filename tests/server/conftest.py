"""Trainers, films and sessions for tests of the server."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.core.management import call_command
from django.test import Client
from huey.contrib.djhuey import HUEY
from huey.storage import MemoryStorage

from frequens.media.ingest.child import run_stage
from frequens.server.accounts.models import Workspace, join_workspace
from frequens.server.ingest import intake
from frequens.server.ingest.intake import take_in
from frequens.server.keeping import is_own_file
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession
from frequens.simulator.camera import FilmOptions, script_session, shoot

PASSWORD = "bell-rope-and-barley"


@pytest.fixture(autouse=True)
def queue_in_memory(monkeypatch):
    """Tasks of a test stay in it; none is run unless the test runs it."""
    monkeypatch.setattr(HUEY, "storage", MemoryStorage(HUEY.name))


def pytest_collection_modifyitems(items):
    if not is_own_file():
        skip = pytest.mark.skip(reason="the database is a server's")
        for item in items:
            if item.get_closest_marker("own_file"):
                item.add_marker(skip)


@pytest.fixture(scope="session")
def django_db_setup(django_db_setup, django_db_blocker):
    with django_db_blocker.unblock():
        call_command("createcachetable", verbosity=0)


@pytest.fixture
def make_trainer(db):
    cache.clear()

    def make(name="wren", workspace="Saltmarsh Steading"):
        user = get_user_model().objects.create_user(name, password=PASSWORD)
        place, _ = Workspace.objects.get_or_create(name=workspace)
        join_workspace(user, place)
        return user

    return make


@pytest.fixture
def trainer(make_trainer):
    return make_trainer()


@pytest.fixture
def wren(trainer) -> Client:
    """The trainer's browser."""
    client = Client()
    client.force_login(trainer)
    return client


@pytest.fixture
def stranger(make_trainer) -> Client:
    """A browser of somebody from another workspace."""
    client = Client()
    client.force_login(make_trainer("sorrel", "Upper Meadow"))
    return client


@pytest.fixture(scope="session")
def shot(made_once) -> Path:
    """A small film of eight seconds."""
    script = script_session(8, seed=3)
    options = FilmOptions(width=320, height=180, numbered=True)
    made = made_once("shot", lambda folder: shoot(script, folder / "thistle.mp4", options))
    return made / "thistle.mp4"


@pytest.fixture
def upload(wren):
    def send(body: bytes, name="thistle.mp4", client=wren):
        return client.post(f"/api/films?name={name}", body, content_type="application/octet-stream")

    return send


@pytest.fixture(scope="session")
def stages_once():
    """Runs each stage on the shot film once; what it wrote and said is repeated later."""
    done: dict[str, tuple[dict, dict[str, bytes]]] = {}

    def run(name, task, *args, **more):
        if name not in done:
            result = run_stage(name, task, *args, **more)
            keys = {name, "fine", "heard", "voices", "poster"} & set(task)
            written = {k: Path(task[k]).read_bytes() for k in keys if Path(task[k]).exists()}
            done[name] = result, written
        result, written = done[name]
        for key, content in written.items():
            Path(task[key]).write_bytes(content)
        return result

    return run


@pytest.fixture
def film(upload, shot, stages_once) -> Film:
    """The shot film, taken in."""
    answer = upload(shot.read_bytes())
    assert answer.status_code == 201, answer.content
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(intake, "run_stage", stages_once)
        take_in(answer.json()["id"])
    return Film.objects.get(pk=answer.json()["id"])


def sent(client: Client, method: str, path: str, body=None):
    """A JSON request and its parsed answer."""
    answer = client.generic(
        method, path, "" if body is None else json.dumps(body), content_type="application/json"
    )
    return answer.status_code, json.loads(answer.content) if answer.content else None


def put(event_id, kind, frame, film, **fields):
    """An edit that puts a mark on a frame of a film."""
    event = {"id": event_id, "kind": kind, "frame": frame, "pts": film.index.pts[frame], **fields}
    return {"client_id": f"edit-{event_id}-{frame}", "body": {"op": "put", "event": event}}


@pytest.fixture
def bell(wren):
    learner = sent(wren, "POST", "/api/learners", {"name": "Thistle", "health": ["pregnant"]})[1]
    body = {"learner_id": learner["id"], "starter": "bell"}
    return sent(wren, "POST", "/api/behaviours", body)[1]


@pytest.fixture
def plan(bell):
    """The bell's plan as a session's document has it."""
    document = bell["plan"]["document"]
    keys = ("key", "title", "mark_at", "hold_s", "fallback")
    steps = [{k: s[k] for k in keys if k in s} for s in document["approximations"]]
    whole = ("rule", "placement", "rate_floor_per_min", "session_cap_s", "rep_cap")
    return {"approximations": steps, **{k: document[k] for k in whole if k in document}}


@pytest.fixture
def filmed(wren, bell):
    """Brings a day in as a session of the bell."""

    def bring(day):
        made = sent(wren, "POST", "/api/sessions/import", day.document())[1]["session_id"]
        sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", {"session_id": made})
        return made

    return bring


@pytest.fixture
def coded(wren, bell, film):
    """The film's session, coded and filmed under the bell plan."""
    edits = [
        put("c", "criterion", 0, film, approximation="look"),
        put("b1", "onset", 30, film, met=True),
        put("m1", "marker", 40, film, marker="event"),
        put("r1", "reward", 70, film),
        put("b2", "onset", 120, film, met=False),
    ]
    path = f"/api/sessions/{film.session_id}/edits"
    assert sent(wren, "POST", path, {"edits": edits})[1]["refused"] == {}
    body = {"session_id": str(film.session_id)}
    assert sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", body)[0] == 204
    return TrainingSession.objects.get(pk=film.session_id)
