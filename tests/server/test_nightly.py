"""Backups by themselves: made, read back, the oldest dropped, and told where people look."""

from __future__ import annotations

import datetime as dt
import os
import zipfile

import pytest
from django.utils import timezone

from frequens.server import health, keeping, nightly
from frequens.server.tasks import back_up_every_night

from .conftest import sent

pytestmark = pytest.mark.own_file


@pytest.fixture
def folder(settings, tmp_path, db):
    settings.HOME = tmp_path
    settings.BACKUPS = tmp_path / "saved" / "frequens"
    settings.BACKUPS_KEPT = 3
    return settings.BACKUPS


@pytest.fixture
def a_database(monkeypatch, tmp_path):
    """Something to save: the test's own database is inside a transaction."""
    import sqlite3

    path = tmp_path / "frequens.sqlite3"
    with sqlite3.connect(path) as made:
        made.execute("CREATE TABLE marks (at REAL)")
        made.execute("INSERT INTO marks VALUES (1.5)")
    monkeypatch.setattr(keeping, "database", lambda: path)
    return path


def names(folder):
    return sorted(path.name for path in folder.iterdir())


def test_a_backup_is_read_back_before_it_counts(folder, a_database):
    assert nightly.last_good() is None
    assert nightly.back_up_tonight()
    (name,) = names(folder)
    good = nightly.last_good()
    assert good.bytes == (folder / name).stat().st_size
    assert timezone.now() - good.at < dt.timedelta(minutes=1)
    keeping.check_backup(folder / name)


def test_the_task_of_the_night_makes_it(folder, a_database):
    back_up_every_night.call_local()
    assert len(names(folder)) == 1


def test_one_that_cannot_be_read_is_none_and_the_others_stay(folder, a_database, monkeypatch):
    assert nightly.back_up_tonight()
    before = names(folder)

    def broken(target, films):
        target.write_bytes(b"half")
        return 4

    monkeypatch.setattr(nightly, "back_up", broken)
    assert not nightly.back_up_tonight()
    assert names(folder) == before


def test_a_damaged_database_makes_no_backup(folder, a_database):
    a_database.write_bytes(b"no database" * 500)
    assert not nightly.back_up_tonight()
    assert names(folder) == []
    assert nightly.last_good() is None


def test_the_oldest_are_dropped_and_nothing_else(folder, a_database):
    folder.mkdir(parents=True)
    for day in (1, 2, 3, 4):
        (folder / f"frequens-2026-05-0{day}-023000.zip").write_bytes(b"x")
    (folder / "holiday.jpg").write_bytes(b"x")
    assert nightly.back_up_tonight()
    kept = names(folder)
    assert kept[:2] == ["frequens-2026-05-03-023000.zip", "frequens-2026-05-04-023000.zip"]
    assert (len(kept), kept[-1]) == (4, "holiday.jpg")


def test_without_a_folder_none_is_made(settings):
    settings.BACKUPS = None
    assert not nightly.back_up_tonight()
    assert nightly.last_good() is None


def test_a_backup_with_a_changed_byte_is_refused(folder, a_database):
    assert nightly.back_up_tonight()
    path = folder / names(folder)[0]
    with zipfile.ZipFile(path) as archive:
        entries = {name: archive.read(name) for name in archive.namelist()}
    with zipfile.ZipFile(path, "w") as archive:
        for name, content in entries.items():
            archive.writestr(name, content + (b"x" if name.endswith("sqlite3") else b""))
    with pytest.raises(keeping.BadBackup, match="damaged"):
        keeping.check_backup(path)


@pytest.mark.parametrize(("hours", "is_good"), [(47, True), (49, False)])
def test_the_last_good_one_is_shown_and_missed_after_two_days(
    folder, a_database, wren, hours, is_good
):
    found = sent(wren, "GET", "/api/me/workspace")[1]
    assert (found["backups"], found["last_backup"]) == (True, None)
    assert not health._backups().is_good
    assert nightly.back_up_tonight()
    path = folder / names(folder)[0]
    at = timezone.now().timestamp() - hours * 3600
    os.utime(path, (at, at))
    told = sent(wren, "GET", "/api/me/workspace")[1]["last_backup"]
    assert told["bytes"] == path.stat().st_size
    assert dt.datetime.fromisoformat(told["at"]).timestamp() == pytest.approx(at, abs=1)
    assert health._backups().is_good == is_good
