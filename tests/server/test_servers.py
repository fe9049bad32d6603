"""A house on PostgreSQL and Redis: many at once lose nothing and double nothing."""

from __future__ import annotations

import shutil
import socket
import subprocess
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest

from tests.house import PATIENCE_S, QUICK, House
from tests.object_store import ObjectStore
from tests.postgres import postgres, programs

pytestmark = [
    pytest.mark.long,
    pytest.mark.skipif(
        programs() is None or shutil.which("redis-server") is None,
        reason="PostgreSQL or Redis is not installed",
    ),
]
HANDS, MARKS = 8, 15


@pytest.fixture(scope="module")
def redis(tmp_path_factory):
    """Its address; without anything kept on the disk."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    alone = ["--bind", "127.0.0.1", "--port", str(port), "--save", "", "--appendonly", "no"]
    folder = tmp_path_factory.mktemp("redis")
    server = subprocess.Popen(["redis-server", *alone], cwd=folder, stdout=subprocess.DEVNULL)
    yield f"redis://127.0.0.1:{port}/0"
    server.terminate()
    server.wait(PATIENCE_S)


@pytest.fixture(scope="module")
def house(tmp_path_factory, redis):
    with postgres() as url:
        home = tmp_path_factory.mktemp("house")
        house = House(home, DATABASE_URL=url, FREQUENS_QUEUE=redis, **QUICK)
        house.add_trainer()
        with house.start("--processes", "3"):
            yield house


@pytest.fixture
def path(house):
    document = {"format": "frequens-session", "version": 1, "recording": {"duration_s": 60.0}}
    document["events"] = []
    answer = house.trainer().ask("POST", "/api/sessions/import", json=document)
    assert answer.status_code == 201, answer.text
    return f"/api/sessions/{answer.json()['session_id']}/edits"


def mark(name):
    event = {"id": name, "kind": "onset", "t": 1.0}
    return {"client_id": name, "body": {"op": "put", "event": event}}


def at_once(work):
    """`work(hand)` by many at the same time; what each came to."""
    together = threading.Barrier(HANDS)

    def begin(hand):
        together.wait()
        return work(hand)

    with ThreadPoolExecutor(HANDS) as pool:
        return list(pool.map(begin, range(HANDS)))


def test_no_file_of_a_database_or_queue_is_made(house):
    assert not list(house.home.glob("*.sqlite3*"))


def test_marks_of_many_hands_are_all_there_once(house, path):
    """Each hand sends its own marks, and one that all of them send."""
    trainers = [house.trainer() for _ in range(HANDS)]

    def work(hand):
        sent = [f"{hand}-{n}" for n in range(MARKS)] + ["shared"]
        statuses = {
            trainers[hand].ask("POST", path, json={"edits": [mark(name)]}).status_code
            for name in sent
        }
        return sent, statuses

    before = house.trainer().ask("GET", f"{path}?after=0").json()["seq"]
    done = at_once(work)
    assert {status for _, statuses in done for status in statuses} == {200}
    found = house.trainer().ask("GET", f"{path}?after={before}").json()
    names = [edit["client_id"] for edit in found["edits"]]
    assert sorted(names) == sorted({name for sent, _ in done for name in sent})


def test_who_looks_meanwhile_misses_none(house, path):
    """Numbers are the order in which edits can be seen: asking for later ones is enough."""
    trainers = [house.trainer() for _ in range(HANDS)]

    before = house.trainer().ask("GET", f"{path}?after=0").json()["seq"]

    def look():
        seen, after, watcher = [], before, house.trainer()
        deadline = time.monotonic() + PATIENCE_S
        while len(seen) < (HANDS - 1) * MARKS and time.monotonic() < deadline:
            answer = watcher.ask("GET", f"{path}?after={after}").json()
            seen += [edit["client_id"] for edit in answer["edits"]]
            after = answer["seq"]
        return seen

    def work(hand):
        if hand == 0:
            return look()
        for n in range(MARKS):
            trainers[hand].ask("POST", path, json={"edits": [mark(f"{hand}-{n}")]})
        return []

    seen = at_once(work)[0]
    assert sorted(seen) == sorted(f"{h}-{n}" for h in range(1, HANDS) for n in range(MARKS))


def test_of_drafts_made_from_one_version_only_one_is_kept(house):
    trainer = house.trainer()
    learner = trainer.ask("POST", "/api/learners", json={"name": "Thistle"}).json()
    wanted = {"learner_id": learner["id"], "name": "Bell"}
    behaviour = trainer.ask("POST", "/api/behaviours", json=wanted).json()
    address = f"/api/behaviours/{behaviour['id']}/plan"
    trainers = [house.trainer() for _ in range(HANDS)]
    plan = behaviour["plan"]

    def work(hand):
        draft = {
            "document": {**plan["document"], "goal": f"Rings the bell {hand} times"},
            "number": plan["number"],
            "revision": plan["revision"],
        }
        return trainers[hand].ask("PUT", address, json=draft).status_code

    assert sorted(at_once(work)) == [200] + [409] * (HANDS - 1)


def test_a_film_is_taken_in_through_the_other_queue(house, shot):
    trainer = house.trainer()
    film = trainer.settled(trainer.upload(shot)["id"])
    assert film["state"] == "ready"
    assert house.said().count("Traceback") == 0


def test_two_machines_share_their_films(tmp_path_factory, redis, shot):
    """Each with a folder of its own; whichever works on a film, both show it the same."""
    store = ObjectStore()
    # Not the queue of the house above: its worker knows of no store.
    queue = redis.removesuffix("/0") + "/1"
    with postgres() as url:
        told = {"DATABASE_URL": url, "FREQUENS_QUEUE": queue, **store.environment, **QUICK}
        near, far = (House(tmp_path_factory.mktemp(name), **told) for name in ("near", "far"))
        near.add_trainer()
        with near.start(), far.start():
            trainers = [near.trainer(), far.trainer()]
            films = [trainer.upload(shot, f"{n}.mp4") for n, trainer in enumerate(trainers)]
            for film in films:
                assert trainers[0].settled(film["id"])["state"] == "ready"
                for place in ("frames", "review.mp4", "fine.bin", "clicks", "frames/7.jpg"):
                    path = f"/api/films/{film['id']}/{place}"
                    said = [trainer.ask("GET", path) for trainer in trainers]
                    assert [answer.status_code for answer in said] == [200, 200]
                    assert said[0].content == said[1].content
                whole = trainers[1].ask("GET", f"/api/films/{film['id']}/original").content
                assert whole == shot.read_bytes()
                assert trainers[1].ask("DELETE", f"/api/films/{film['id']}").status_code == 204
            assert list(store.files()) == [], near.said() + far.said()
    store.down()
