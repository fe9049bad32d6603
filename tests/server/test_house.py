"""The running thing: started by its command, killed at any moment, and nothing is lost."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import socket
import tempfile
import time
from pathlib import Path

import pytest
import requests

from frequens.server.crew import LONGEST_TEMPORARY, new_scratch
from frequens.server.management.commands.serve import listen
from frequens.simulator.camera import FilmOptions, script_session, shoot
from tests.house import PATIENCE_S


@pytest.fixture
def house(make_house):
    house = make_house()
    yield house
    house.kill()


@pytest.fixture(scope="module")
def long_film(tmp_path_factory):
    """Large enough that its review copy takes a few seconds."""
    path = tmp_path_factory.mktemp("long") / "long.mp4"
    shoot(script_session(24, seed=3), path, FilmOptions(width=640, height=360, noise=0.1))
    return path


def wait_for_stage(trainer, film_id, name, timeout_s=PATIENCE_S):
    deadline = time.monotonic() + timeout_s
    while time.monotonic() < deadline:
        film = trainer.film(film_id)
        stage = next(s for s in film["stages"] if s["name"] == name)
        if stage["state"] == "working" and stage["share"] > 0:
            return film
        assert film["state"] in ("waiting", "working"), film
        time.sleep(0.05)
    raise TimeoutError(name)


@pytest.mark.long
def test_a_killed_worker_leaves_a_film_that_is_taken_up_again(house, long_film):
    trainer = house.start().trainer()
    film_id = trainer.upload(long_film)["id"]
    wait_for_stage(trainer, film_id, "review")
    house.kill()
    trainer = house.start().trainer()
    stages = {s["name"]: s["state"] for s in trainer.film(film_id)["stages"]}
    assert (stages["check"], stages["index"]) == ("done", "done")
    film = trainer.settled(film_id)
    assert film["state"] == "ready"
    assert film["review_ready"]
    folder = house.home / "films" / film_id
    assert sorted(p.name for p in folder.iterdir()) == [
        "fine.bin",
        "heard.npz",
        "index.json",
        "original",
        "poster.jpg",
        "review.mp4",
        "sound.bin",
        "voices.npz",
    ]


@pytest.mark.long
def test_a_film_can_be_stopped_and_gone_on_with(house, long_film):
    trainer = house.start().trainer()
    film_id = trainer.upload(long_film)["id"]
    wait_for_stage(trainer, film_id, "review")
    trainer.ask("POST", f"/api/films/{film_id}/cancel")
    time.sleep(1.5)
    stopped = trainer.film(film_id)
    assert stopped["state"] == "cancelled"
    assert not list((house.home / "films" / film_id).glob("part-*"))
    trainer.ask("POST", f"/api/films/{film_id}/resume")
    assert trainer.settled(film_id)["state"] == "ready"


@pytest.mark.long
def test_a_saved_mark_survives_a_killed_server(house, long_film):
    trainer = house.start().trainer()
    film = trainer.settled(trainer.upload(long_film)["id"])
    path = f"/api/sessions/{film['session_id']}/edits"
    pts = trainer.ask("GET", f"/api/films/{film['id']}/frames").json()["pts"]
    for n in range(20):
        event = {"id": f"b{n}", "kind": "onset", "frame": n * 9, "pts": pts[n * 9]}
        edit = {"client_id": f"c{n}", "body": {"op": "put", "event": event}}
        said = trainer.ask("POST", path, json={"edits": [edit]}).json()
        assert said["taken"] == [f"c{n}"]
        if n == 11:
            house.kill()
            trainer = house.start().trainer()
    kept = trainer.ask("GET", path).json()["edits"]
    assert [e["client_id"] for e in kept] == [f"c{n}" for n in range(20)]


@pytest.mark.long
def test_a_dead_worker_is_started_again_and_the_server_goes_on(house, long_film):
    trainer = house.start().trainer()
    crew = house.crew()
    workers = [pid for pid, name in crew.items() if name == "frequens work"]
    assert len(workers) == 1
    os.kill(workers[0], signal.SIGKILL)
    assert trainer.settled(trainer.upload(long_film)["id"])["state"] == "ready"
    after = house.crew()
    assert workers[0] not in after
    assert set(crew) - set(workers) <= set(after)
    assert "The worker ended by itself and was started again" in house.said()


@pytest.mark.long
def test_a_dead_web_process_is_started_again(house):
    trainer = house.start().trainer()
    web = next(pid for pid, name in house.crew().items() if name == "frequens web")
    os.kill(web, signal.SIGKILL)
    house.wait_said("A web process ended by itself")
    assert trainer.ask("GET", "/api/films").status_code == 200
    assert len(house.crew()) == 3


def lives(pid):
    """Whether a process is at work; one that ended and was not fetched yet has no command."""
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes() != b""
    except (FileNotFoundError, ProcessLookupError):
        return False


@pytest.mark.long
def test_who_is_killed_leaves_nobody_behind(house):
    """Whatever became of the first process: the others end, and the port is free."""
    house.start()
    crew = house.crew()
    parent = house._process.pid
    os.kill(parent, signal.SIGKILL)
    house._process.wait()
    deadline = time.monotonic() + PATIENCE_S
    while any(lives(pid) for pid in crew):
        assert time.monotonic() < deadline
        time.sleep(0.1)
    with socket.create_server(("127.0.0.1", house.port)):
        pass


def test_small_answers_need_not_wait_for_the_client():
    """Only where a socket knows its protocol asyncio switches Nagle's algorithm off for it."""
    with listen(None, "127.0.0.1", 0) as listening:
        assert listening.proto == socket.IPPROTO_TCP


@pytest.mark.long
def test_ctrl_c_stops_server_and_worker_cleanly(house):
    house.start()
    house.wait_said("Ctrl-C stops it")
    assert house.stop() == 0
    with pytest.raises(requests.ConnectionError):
        requests.get(house.url, timeout=2)
    said = (house.home / "house.log").read_text()
    assert f"Frequens answers at {house.url}" in said
    assert "Traceback" not in said
    # Also at once, while the worker may still be starting: that is no failed start.
    house.start()
    assert house.stop() == 0


@pytest.fixture
def temporary():
    """A folder with a short name."""
    with tempfile.TemporaryDirectory(dir="/tmp") as folder:
        yield Path(folder)


@pytest.mark.long
def test_what_read_a_film_ends_with_the_house_and_leaves_nothing(make_house, shot, temporary):
    house = make_house(TMPDIR=str(temporary)).start()
    trainer = house.trainer()
    film = trainer.settled(trainer.upload(shot)["id"])
    assert film["state"] == "ready", film
    assert list(temporary.iterdir())
    # Web processes and worker, and what the films' processes are forked from.
    assert len(group(house._process.pid)) > len(house.crew()) + 1
    assert house.stop() == 0
    assert list(temporary.iterdir()) == []
    deadline = time.monotonic() + PATIENCE_S
    while group(house._process.pid):
        assert time.monotonic() < deadline
        time.sleep(0.1)


@pytest.mark.parametrize(("over", "is_usual"), [(0, True), (1, False)])
def test_the_workers_socket_has_a_name_that_is_short_enough(temporary, monkeypatch, over, is_usual):
    long = temporary / ("x" * (LONGEST_TEMPORARY + over - len(str(temporary)) - 1))
    long.mkdir()
    monkeypatch.setattr(tempfile, "tempdir", str(long))
    scratch = new_scratch()
    try:
        assert (scratch.parent == long) is is_usual
        # As `multiprocessing` names it.
        folder = Path(tempfile.mkdtemp(prefix="pymp-", dir=scratch))
        with socket.socket(socket.AF_UNIX) as listening:
            listening.bind(tempfile.mktemp(prefix="listener-", dir=folder))
    finally:
        shutil.rmtree(scratch)


def group(leader):
    """The processes of a group that still live."""
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        with contextlib.suppress(FileNotFoundError, ProcessLookupError):
            state, _, of = stat.read_text().rpartition(") ")[2].split()[:3]
            if int(of) == leader and state != "Z":
                found.append(int(stat.parent.name))
    return found


@pytest.mark.long
def test_ranges_work_behind_the_real_server(house, long_film):
    """Without partial answers no browser can seek, and it does not say so."""
    trainer = house.start().trainer()
    film = trainer.settled(trainer.upload(long_film)["id"])
    answer = trainer.ask(
        "GET", f"/api/films/{film['id']}/review.mp4", headers={"Range": "bytes=100-199"}
    )
    whole = (house.home / "films" / film["id"] / "review.mp4").read_bytes()
    assert (answer.status_code, answer.content) == (206, whole[100:200])
    assert "did not start" not in house.said()
