"""Whether everything is as it should be, told to machines that ask and to whoever looks."""

from __future__ import annotations

import gzip
import os
import re
import sqlite3
import stat
import subprocess
import sys

import pytest
import requests

from frequens import __version__
from frequens.cli import main
from frequens.server import health, keeping


@pytest.mark.django_db
def test_a_machine_may_ask_without_logging_in(client):
    answer = client.get("/health")
    assert answer.status_code == 200
    assert answer.json()["status"] == "ok"
    assert answer.json()["version"] == __version__
    assert "no-store" in answer["Cache-Control"]


@pytest.mark.django_db
def test_a_disk_that_is_full_is_said_with_503(client, settings):
    settings.DISK_RESERVE_BYTES = 10**18
    answer = client.get("/health")
    assert (answer.status_code, answer.json()["status"]) == (503, "failing")
    settings.DISK_RESERVE_BYTES = 1
    assert client.get("/health").status_code == 200


@pytest.mark.django_db
def test_a_database_that_does_not_answer_is_said_with_503(client, monkeypatch):
    def gone():
        raise health.DatabaseError("held")

    monkeypatch.setattr(health.connection, "cursor", gone)
    answer = client.get("/health")
    assert answer.status_code == 503
    assert answer.json()["checks"]["database"] == "does not answer"


@pytest.fixture
def here(tmp_path, settings):
    """An installation's folder of its own, with a database that is whole."""
    settings.HOME = tmp_path
    tmp_path.chmod(0o700)
    settings.WEB_DIST = tmp_path / "dist"
    settings.WEB_DIST.mkdir()
    (settings.WEB_DIST / "index.html").write_text("<p>")
    settings.SECRET_KEY_FILE = tmp_path / "secret_key"
    return tmp_path


def said_of(name):
    return next(check for check in health.installation() if check.name == name)


@pytest.mark.own_file
@pytest.mark.django_db
def test_check_looks_at_folder_database_and_screens(here, monkeypatch, capsys):
    path = here / "frequens.sqlite3"
    sqlite3.connect(path).execute("CREATE TABLE t (x)").connection.close()
    monkeypatch.setattr(health, "database", lambda: path)
    assert main(["check"]) == 0
    assert "LOOK" not in capsys.readouterr().out
    here.chmod(0o755)
    assert said_of("folder") == ("folder", False, "open to others (755)")
    here.chmod(0o700)
    (here / "dist" / "index.html").unlink()
    assert not said_of("screens").is_good
    path.write_bytes(b"no database at all" * 100)
    assert not said_of("database").is_good
    assert main(["check"]) == 1
    assert "LOOK  screens" in capsys.readouterr().out


def test_the_key_is_made_once_for_its_owner_alone(here):
    keeping.make_secret_key()
    first = (here / "secret_key").read_text()
    assert len(first) >= 50
    assert stat.S_IMODE((here / "secret_key").stat().st_mode) == 0o600
    keeping.make_secret_key()
    assert (here / "secret_key").read_text() == first


def test_reading_the_settings_writes_nothing(tmp_path):
    home = tmp_path / "home"
    code = "import frequens.server.settings as s; print(len(s.SECRET_KEY))"
    told = subprocess.check_output(
        [sys.executable, "-c", code], env={**os.environ, "FREQUENS_HOME": str(home)}, text=True
    )
    assert int(told) >= 50
    assert not home.exists()


def test_the_core_needs_no_django():
    code = (
        "import sys; from frequens.core import measure; import frequens.core.history.logbook, "
        "frequens.core.planning.next_session; print([m for m in sys.modules if 'django' in m])"
    )
    assert subprocess.check_output([sys.executable, "-c", code], text=True).strip() == "[]"


def test_the_version_is_said(capsys):
    with pytest.raises(SystemExit) as ended:
        main(["--version"])
    assert ended.value.code == 0
    assert capsys.readouterr().out.strip() == f"frequens {__version__}"


def test_a_new_installation_makes_its_own_folder(tmp_path):
    home = tmp_path / "deep" / "home"
    subprocess.run(
        [sys.executable, "-m", "frequens.server.manage", "check"],
        env={**os.environ, "FREQUENS_HOME": str(home)},
        check=True,
        capture_output=True,
    )
    assert stat.S_IMODE(home.stat().st_mode) == 0o700


@pytest.mark.long
def test_what_the_screens_are_made_of_goes_out_small_and_is_kept(house_url):
    def asked(path, encoding):
        headers = {"Accept-Encoding": encoding}
        answer = requests.get(house_url + path, headers=headers, timeout=30, stream=True)
        return answer.headers, answer.raw.read(decode_content=False)

    page = requests.get(house_url, timeout=30).text
    script = re.search(r'src="(/assets/[^"]+\.js)"', page)[1]
    headers, packed = asked(script, "gzip")
    assert headers["Content-Encoding"] == "gzip"
    assert "immutable" in headers["Cache-Control"]
    headers, whole = asked(script, "identity")
    assert "Content-Encoding" not in headers
    assert len(packed) < 0.5 * len(whole)
    assert gzip.decompress(packed) == whole


@pytest.fixture
def house_url(make_house):
    house = make_house()
    yield house.start().url
    house.kill()
