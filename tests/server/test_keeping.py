"""What is kept survives: damage is said, backups are whole, and nothing is half restored."""

from __future__ import annotations

import json
import shutil
import socket
import sqlite3
import stat
import subprocess
import sys
import time
import zipfile
from contextlib import suppress
from pathlib import Path

import pytest
import requests

from tests.house import House


@pytest.fixture
def house(make_house):
    house = make_house()
    yield house
    house.kill()


def frequens(house: House, *command: object) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [str(Path(sys.executable).with_name("frequens")), *map(str, command)],
        env=house._environment,
        text=True,
        capture_output=True,
    )


def imported(trainer):
    document = {"format": "frequens-session", "version": 1, "recording": {"duration_s": 60.0}}
    document["events"] = []
    answer = trainer.ask("POST", "/api/sessions/import", json=document)
    assert answer.status_code == 201, answer.text
    return f"/api/sessions/{answer.json()['session_id']}/edits"


def mark(trainer, path, name, **more):
    body = {"op": "put", "event": {"id": name, "kind": "onset", "t": 1.0}}
    edits = {"edits": [{"client_id": name, "body": body}], **more}
    answer = trainer.ask("POST", path, json=edits)
    assert answer.json()["taken"] == [name]
    return answer.json()


def names(trainer, path, after=0):
    answer = trainer.ask("GET", f"{path}?after={after}").json()
    return [e["client_id"] for e in answer["edits"]], answer


@pytest.mark.long
def test_a_backup_of_a_running_house_holds_what_was_saved_last(house, tmp_path):
    trainer = house.start().trainer()
    path = imported(trainer)
    for n in range(40):
        mark(trainer, path, f"m{n}")
    # The file alone lacks what is in the log: that is why there is a command.
    file = tmp_path / "all.frequens"
    done = frequens(house, "backup", file)
    assert done.returncode == 0, done.stderr
    assert stat.S_IMODE(file.stat().st_mode) == 0o600
    later = mark(trainer, path, "later")
    refused = frequens(house, "restore", file)
    assert refused.returncode == 2
    assert "stop it first" in refused.stderr
    assert house.stop() == 0
    done = frequens(house, "restore", file)
    assert done.returncode == 0, done.stderr
    assert "before-restore-" in done.stdout
    trainer = house.start().trainer()
    kept, answer = names(trainer, path)
    assert kept[2:] == [f"m{n}" for n in range(40)]
    # Whoever knows more sees that it does.
    assert answer["history"] != later["history"]
    assert answer["last"] < later["last"]


@pytest.mark.long
def test_nothing_is_restored_from_a_damaged_backup(house, tmp_path):
    trainer = house.start().trainer()
    path = imported(trainer)
    mark(trainer, path, "kept")
    file = tmp_path / "all.frequens"
    frequens(house, "backup", file)
    house.stop()
    before = (house.home / "frequens.sqlite3").read_bytes()
    whole = file.read_bytes()
    bad = tmp_path / "bad"
    for content in (b"", whole[: len(whole) // 2], whole[:200] + b"x" + whole[201:], b"text"):
        bad.write_bytes(content)
        done = frequens(house, "restore", bad)
        assert done.returncode == 2
        assert done.stderr.startswith(str(bad))
        assert "Traceback" not in done.stderr
    with zipfile.ZipFile(bad, "w") as archive:
        head = {"format": "frequens-backup", "version": 1, "films": True}
        archive.writestr("../../outside", "x")
        archive.writestr(
            "frequens-backup.json", json.dumps({**head, "sha256": {"../../outside": "0"}})
        )
    assert "none of ours" in frequens(house, "restore", bad).stderr
    assert (house.home / "frequens.sqlite3").read_bytes() == before


@pytest.mark.long
def test_films_go_along_where_they_are_asked_for(house, shot, tmp_path):
    trainer = house.start().trainer()
    film = trainer.settled(trainer.upload(shot)["id"])
    without, with_films = tmp_path / "a", tmp_path / "b"
    assert frequens(house, "backup", without).returncode == 0
    assert frequens(house, "backup", "--films", with_films).returncode == 0
    house.stop()
    folder = house.home / "films" / film["id"]
    kept = {p.name: p.read_bytes() for p in folder.iterdir()}
    shutil.rmtree(folder)
    assert frequens(house, "restore", without).returncode == 0
    assert not folder.exists()
    assert frequens(house, "restore", with_films).returncode == 0
    assert {p.name: p.read_bytes() for p in folder.iterdir()} == kept


@pytest.mark.long
def test_films_that_came_after_the_backup_are_kept_with_what_was_here_before(house, shot, tmp_path):
    """The restored database does not know them; nothing clears them away."""
    trainer = house.start().trainer()
    known = trainer.settled(trainer.upload(shot)["id"])["id"]
    file = tmp_path / "early"
    assert frequens(house, "backup", file).returncode == 0
    later = trainer.settled(trainer.upload(shot)["id"])["id"]
    house.stop()
    assert frequens(house, "restore", file).returncode == 0
    trainer = house.start().trainer()
    assert [film["id"] for film in trainer.ask("GET", "/api/films").json()] == [known]
    assert (house.home / "films" / known / "original").read_bytes() == shot.read_bytes()
    (aside,) = house.home.glob("before-restore-*")
    assert (aside / "films" / later / "original").read_bytes() == shot.read_bytes()
    assert (aside / "frequens.sqlite3").exists()


@pytest.mark.long
@pytest.mark.parametrize("how", ["empty", "noise", "gone"])
def test_a_database_that_is_none_is_said_and_never_a_new_beginning(house, how):
    file = house.home / "frequens.sqlite3"
    for beside in house.home.glob("frequens.sqlite3-*"):
        beside.unlink()
    if how == "empty":
        file.write_bytes(b"")
    elif how == "noise":
        content = bytearray(file.read_bytes())
        content[8192:40960] = b"\xa5" * 32768
        file.write_bytes(content)
    else:
        (house.home / "films" / "x").mkdir(parents=True)
        file.unlink()
    before = file.read_bytes() if file.exists() else None
    with pytest.raises(AssertionError) as said:
        house.start()
    assert "frequens restore FILE" in str(said.value)
    assert "Traceback" not in str(said.value)
    assert (file.read_bytes() if file.exists() else None) == before


@pytest.mark.long
def test_two_do_not_serve_one_house(house):
    house.start()
    second = House(house.home)
    with pytest.raises(AssertionError, match="running here already"):
        second.start()


@pytest.mark.long
def test_what_is_kept_is_its_owners_alone(house, shot):
    house.home.chmod(0o755)
    trainer = house.start().trainer()
    assert stat.S_IMODE(house.home.stat().st_mode) == 0o700
    film = trainer.settled(trainer.upload(shot)["id"])
    for path in (house.home / "films" / film["id"]).iterdir():
        assert stat.S_IMODE(path.stat().st_mode) == 0o600, path
    for path in house.home.glob("*.sqlite3*"):
        assert stat.S_IMODE(path.stat().st_mode) == 0o600, path
    assert stat.S_IMODE((house.home / "films").stat().st_mode) == 0o700


@pytest.mark.long
def test_what_is_answered_as_saved_is_on_the_disk_by_then(house, tmp_path):
    """Each answer to a mark comes after the log was synchronised for it."""
    strace = shutil.which("strace")
    if strace is None:
        pytest.fail("strace is missing: `make test` installs it")
    trainer = house.start("--processes", "1").trainer()
    path = imported(trainer)
    web = next(pid for pid, name in house.crew().items() if name == "frequens web")
    traced = tmp_path / "calls"
    calls = "trace=fsync,fdatasync,sendto,write,sendmsg"
    tracer = subprocess.Popen(
        [strace, "-f", "-y", "-e", calls, "-s", "60", "-o", str(traced), "-p", str(web)]
    )
    time.sleep(1.0)
    for n in range(5):
        mark(trainer, path, f"m{n}")
    tracer.terminate()
    tracer.wait()
    synced, answers = 0, []
    for line in traced.read_text().splitlines():
        if ("fsync(" in line or "fdatasync(" in line) and "sqlite3-wal" in line:
            synced += 1
        elif "HTTP/1.1 200" in line:
            answers.append(synced)
            synced = 0
    assert len(answers) == 5
    assert min(answers) >= 1


@pytest.mark.long
def test_the_log_tells_where_it_failed_and_nothing_of_anybody(house):
    """A table somebody removed makes a request fail: a 500 with a trace, without names."""
    trainer = house.start().trainer()
    with sqlite3.connect(house.home / "frequens.sqlite3") as connection:
        connection.execute("DROP TABLE plans_learner")
    answer = trainer.ask("POST", "/api/learners", json={"name": "Thistle Secret"})
    assert answer.status_code == 500
    assert "Frequens itself failed" in answer.json()["fault"]
    log = (house.home / "house.log").read_text()
    assert "Traceback" in log
    assert "plans/api.py" in log
    assert "no such table: plans_learner" in log
    assert "Secret" not in log


@pytest.mark.long
def test_a_database_somebody_holds_is_told_as_busy_and_then_saved(house):
    trainer = house.start().trainer()
    path = imported(trainer)
    holder = sqlite3.connect(house.home / "frequens.sqlite3", isolation_level=None)
    holder.execute("BEGIN IMMEDIATE")
    body = {"op": "put", "event": {"id": "m", "kind": "onset", "t": 1.0}}
    edits = {"edits": [{"client_id": "m", "body": body}]}
    answer = trainer.ask("POST", path, json=edits)
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "1")
    holder.execute("ROLLBACK")
    assert trainer.ask("POST", path, json=edits).json()["taken"] == ["m"]


LOGIN = "/_allauth/browser/v1/auth/login"


@pytest.mark.long
def test_behind_a_proxy_on_a_unix_socket(make_house, tmp_path):
    """As many steps of the forwarded addresses count as there are proxies, and not one more."""
    house = make_house()
    place = str(tmp_path / "frequens.sock")
    house._environment |= {"FREQUENS_PROXIES": "1", "FREQUENS_HSTS_S": "3600"}
    command = [sys.executable, "-m", "frequens.server.manage", "serve", "--uds", place]
    process = subprocess.Popen(command, env=house._environment, start_new_session=True)
    try:
        deadline = time.monotonic() + 60
        while not Path(place).exists() and time.monotonic() < deadline:
            time.sleep(0.1)
        time.sleep(0.2)
        # Whoever may reach its folder may ask: the proxy is another user.
        assert Path(place).stat().st_mode & 0o777 == 0o666

        def through_proxy(*headers: str, body: str = "") -> str:
            first = f"POST {LOGIN} HTTP/1.1" if body else "GET / HTTP/1.1"
            lines = [first, "Host: localhost", "Connection: close", *headers]
            lines += ["Content-Type: application/json", f"Content-Length: {len(body)}", "", body]
            with socket.socket(socket.AF_UNIX) as one:
                one.settimeout(30)
                one.connect(place)
                one.sendall("\r\n".join(lines).encode())
                said = b""
                while chunk := one.recv(65536):
                    said += chunk
            return said.decode()

        said = through_proxy("X-Forwarded-Proto: https", "X-Forwarded-For: 203.0.113.7")
        assert said.startswith("HTTP/1.1 200")
        assert "max-age=3600" in said.lower()
        assert "max-age=3600" not in through_proxy("X-Forwarded-For: 203.0.113.7").lower()
        token = said.split("csrftoken=")[1].split(";")[0]
        common = (f"Cookie: csrftoken={token}", f"X-CSRFToken: {token}", "X-Forwarded-Proto: https")
        common += ("Origin: https://localhost",)

        def tried(name: str, address: str) -> str:
            body = json.dumps({"username": name, "password": "not it at all"})
            return through_proxy(*common, f"X-Forwarded-For: {address}", body=body).split()[1]

        # The client's own word before the proxy's is not believed: one address, one limit.
        statuses = [tried(f"name{n}", f"198.51.100.{n}, 203.0.113.9") for n in range(21)]
        assert statuses[:20] == ["400"] * 20
        assert "too_many" in through_proxy(
            *common,
            "X-Forwarded-For: 198.51.100.99, 203.0.113.9",
            body=json.dumps({"username": "another", "password": "x"}),
        )
        assert tried("fresh", "203.0.113.10") == "400"
    finally:
        process.terminate()
        process.wait(20)
    assert not Path(place).exists()


@pytest.mark.long
def test_films_and_logins_on_a_full_disk(make_house, shot):
    """A small disk filled to its last byte by somebody else: one can log in, read and mark."""
    house = make_house()
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", "size=160m", "tmpfs", str(house.home)], capture_output=True
    )
    if mounted.returncode:
        pytest.skip("no small disk can be made here")
    try:
        house.add_trainer()
        trainer = house.start().trainer()
        film = trainer.settled(trainer.upload(shot)["id"])
        path = f"/api/sessions/{film['session_id']}/edits"
        with (house.home / "others").open("wb", buffering=0) as file, suppress(OSError):
            while True:
                file.write(bytes(1 << 16))
        assert shutil.disk_usage(house.home).free == 0
        again = house.trainer()
        assert again.ask("GET", "/api/films").json()[0]["id"] == film["id"]
        mark(again, path, "on a full disk")
        with shot.open("rb") as body:
            refused = again.ask("POST", "/api/films", params={"name": "x.mp4"}, data=body)
        assert refused.status_code == 507
        assert "disk is full" in refused.json()["fault"]
        simulated = again.ask("POST", "/api/films/simulate", json={"length_s": 5})
        assert simulated.status_code == 507
        assert [f["state"] for f in again.ask("GET", "/api/films").json()] == ["ready"]
        (house.home / "others").unlink()
        assert again.settled(again.upload(shot)["id"])["state"] == "ready"
    finally:
        house.kill()
        time.sleep(0.5)
        subprocess.run(["umount", "-l", str(house.home)], check=True)


@pytest.mark.long
def test_a_killed_upload_leaves_no_row_and_no_part(house):
    trainer = house.start().trainer()
    cookie = "; ".join(f"{c.name}={c.value}" for c in trainer.cookies)
    with socket.create_connection(("localhost", house.port)) as one:
        head = f"POST /api/films?name=x.mp4 HTTP/1.1\r\nHost: localhost:{house.port}\r\n"
        head += f"X-CSRFToken: {trainer.cookies['csrftoken']}\r\nCookie: {cookie}\r\n"
        one.sendall((head + "Content-Length: 5000000\r\n\r\n").encode() + bytes(1_000_000))
        time.sleep(0.5)
        incoming = house.home / "films" / "incoming"
        assert len(list(incoming.iterdir())) == 1
        house.kill()
    trainer = house.start().trainer()
    assert trainer.ask("GET", "/api/films").json() == []
    assert not incoming.exists()


@pytest.mark.long
def test_a_start_clears_away_what_was_being_removed_and_nothing_the_database_only_forgot(house):
    films = house.home / "films"
    for name in ("removed-0b1f", "2f1c6f0e-7f0b-4c5e-9a55-0d8c3a1f2b3c"):
        (films / name).mkdir(parents=True)
        (films / name / "original").write_bytes(b"x")
    house.start()
    assert [p.name for p in films.iterdir()] == ["2f1c6f0e-7f0b-4c5e-9a55-0d8c3a1f2b3c"]


@pytest.mark.long
def test_a_stranger_cannot_fill_the_disk(house):
    house.start()
    answer = requests.post(f"{house.url}/api/films?name=x", data=bytes(3_000_000))
    assert answer.status_code == 401
    assert not (house.home / "films" / "incoming").exists()
