"""The database is looked at before it is used, saved while it is used, and put back as it was."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import json
import os
import re
import shutil
import sqlite3
import tempfile
import time
import uuid
import zipfile
import zlib
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.core.management.base import CommandError
from django.db import connections

from .library.film_store import COMING, film_store


def is_own_file() -> bool:
    """Whether the database is a file of this installation, and not a server's."""
    return connections["default"].vendor == "sqlite"


def database() -> Path:
    """The database's file, where it is one."""
    return Path(str(settings.DATABASES["default"]["NAME"]))


def make_secret_key() -> None:
    """The installation's own key, made once; processes started from now on find it."""
    with contextlib.suppress(FileExistsError):
        path = settings.SECRET_KEY_FILE
        descriptor = os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600)
        with os.fdopen(descriptor, "w", encoding="ascii") as file:
            file.write(settings.SECRET_KEY)


def check_database() -> None:
    """Raise CommandError for a database that is damaged, or gone where films are still there.

    An empty file, or none beside films, is never taken for a new installation. A database server
    looks after itself.
    """
    if not is_own_file():
        return
    path = database()
    media = Path(settings.MEDIA_ROOT)
    if not path.exists():
        if media.exists() and any(media.iterdir()):
            raise CommandError(
                f"There are films in {media.name}/ but no database beside them. Restore the last "
                "backup (frequens restore FILE), or move the films away to begin anew."
            )
        return
    if path.stat().st_size == 0:
        raise CommandError(f"{path.name} is empty: this is no database. {_RESTORE}")
    said = integrity(path)
    if said != "ok":
        raise CommandError(f"{path.name} is damaged ({said}). {_RESTORE}")


_RESTORE = "Restore the last backup: frequens restore FILE."


def integrity(path: Path) -> str:
    """What SQLite says of a database file: ``ok``, or the first thing that is wrong."""
    try:
        # Not as read only: what a killed server left in the log is part of the database.
        with contextlib.closing(sqlite3.connect(path, timeout=5)) as connection:
            return str(connection.execute("PRAGMA quick_check(1)").fetchone()[0])
    except sqlite3.DatabaseError as error:
        return str(error)


class LogKeeper:
    """Folds the database's log into it, beside whoever writes."""

    EVERY_S, WHOLE_EVERY_S = 2.0, 30.0

    def __init__(self) -> None:
        self._connection: sqlite3.Connection | None = None
        self._next = self._next_whole = time.monotonic()

    def tick(self) -> None:
        """Do what is due. Once in a while the log is emptied: what was removed is in it as well."""
        now = time.monotonic()
        if not is_own_file() or now < self._next:
            return
        if self._connection is None:
            self._connection = sqlite3.connect(database(), timeout=0.2, isolation_level=None)
            self._connection.execute("PRAGMA synchronous=FULL")
        self._next = now + self.EVERY_S
        is_whole = now >= self._next_whole
        if is_whole:
            self._next_whole = now + self.WHOLE_EVERY_S
        # Whoever writes at the moment goes first.
        with contextlib.suppress(sqlite3.OperationalError):
            how = "TRUNCATE" if is_whole else "PASSIVE"
            self._connection.execute(f"PRAGMA wal_checkpoint({how})").fetchone()

    def close(self) -> None:
        """Let go of the database until the next tick."""
        if self._connection is not None:
            self._connection.close()
            self._connection = None


def fold_no_log() -> None:
    """This process leaves its database's log to `LogKeeper`, so that no edit waits for that."""
    if is_own_file():
        connections.settings["default"]["OPTIONS"]["init_command"] += (
            "PRAGMA wal_autocheckpoint=20000;"
        )


@contextlib.contextmanager
def alone() -> Iterator[None]:
    """Nobody else serves or restores this installation meanwhile. Raises CommandError else."""
    with (settings.HOME / "serving.lock").open("w") as lock:
        # What is forked meanwhile may outlive it and must not hold it.
        os.register_at_fork(after_in_child=lock.close)
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise CommandError("Frequens is running here already: stop it first.") from error
        yield


#: Said instead of a backup where the database is a server's.
ELSEWHERE = (
    "The database is on a server of its own: save it with that server's tools (pg_dump), "
    "and the folder of the films beside it."
)


class BadBackup(Exception):
    """The file is no backup that can be restored; the message says why."""


def back_up(target: Path, films: bool) -> int:
    """Write everything into one file, also while the house is open; returns its bytes.

    The database is copied by SQLite's own online backup, so that what was saved last is in it;
    a copy of its file alone would miss what is still in the log. Logins and passes to be logged
    in stay behind. `films` says whether the films go along.
    """
    if not is_own_file():
        raise BadBackup(ELSEWHERE)
    if films and film_store() is not None:
        raise BadBackup(
            "The films are in a store of their own: save that with its own tools, and leave "
            "--films out here."
        )
    part = target.with_name(target.name + ".part")
    try:
        with tempfile.TemporaryDirectory(dir=settings.HOME) as folder:
            copy = Path(folder) / NAME
            _copy_database(copy)
            with zipfile.ZipFile(part, "w", zipfile.ZIP_STORED, allowZip64=True) as archive:
                listed = {NAME: _add(archive, copy, NAME, zipfile.ZIP_DEFLATED)}
                for path in _film_files() if films else ():
                    name = f"films/{path.parent.name}/{path.name}"
                    # One that is removed at this moment is not in it.
                    with contextlib.suppress(FileNotFoundError):
                        listed[name] = _add(archive, path, name, zipfile.ZIP_STORED)
                head = {"format": FORMAT, "version": 1, "films": films, "sha256": listed}
                archive.writestr("frequens-backup.json", json.dumps(head, indent=1))
        with part.open("rb") as whole:
            os.fsync(whole.fileno())
        part.replace(target)
    finally:
        part.unlink(missing_ok=True)
    return target.stat().st_size


FORMAT, NAME = "frequens-backup", "frequens.sqlite3"


def _copy_database(copy: Path) -> None:
    if not database().exists():
        raise BadBackup("There is no database here yet.")
    try:
        _copy_to(copy)
    except sqlite3.DatabaseError as error:
        raise BadBackup(f"The database cannot be read: {error}.") from error
    said = integrity(copy)
    if said != "ok":
        raise BadBackup(f"The database is damaged: {said}.")


def _copy_to(copy: Path) -> None:
    with (
        contextlib.closing(sqlite3.connect(database(), timeout=20)) as source,
        contextlib.closing(sqlite3.connect(copy)) as target,
    ):
        source.backup(target, pages=2000, sleep=0.01)
        for table in ("django_session", "frequens_cache"):
            if _has_table(target, table):
                target.execute(f"DELETE FROM {table}")
        target.commit()
        target.execute("PRAGMA journal_mode=DELETE")


def _has_table(connection: sqlite3.Connection, name: str) -> bool:
    found = connection.execute("SELECT 1 FROM sqlite_master WHERE name = ?", [name])
    return found.fetchone() is not None


def _film_files() -> Iterator[Path]:
    for path in sorted(Path(settings.MEDIA_ROOT).glob("*/*")):
        # Neither what is still coming in nor what is just being removed.
        is_a_films = _NAMES.fullmatch(f"films/{path.parent.name}/{path.name}")
        if path.is_file() and is_a_films and not path.name.startswith(("part-", COMING)):
            yield path


def _add(archive: zipfile.ZipFile, path: Path, name: str, how: int) -> str:
    """Put a file into the archive; returns its SHA-256."""
    digest = hashlib.sha256()
    info = zipfile.ZipInfo(name, date_time=time.localtime()[:6])
    info.compress_type = how
    with path.open("rb") as file, archive.open(info, "w", force_zip64=True) as entry:
        while chunk := file.read(2**20):
            digest.update(chunk)
            entry.write(chunk)
    return digest.hexdigest()


def restore(source: Path) -> Path | None:
    """Put a backup in the place of what is here; only while nobody serves.

    The backup is read whole and checked before anything is changed. Returns where lies now what
    was here, None where there was nothing: the database, and films the backup knows nothing of.
    Films it knows stay where it does not hold them. Raises BadBackup, and CommandError where the
    house is open.
    """
    if not is_own_file():
        raise BadBackup(ELSEWHERE)
    with alone(), tempfile.TemporaryDirectory(dir=settings.HOME) as folder:
        unpacked = Path(folder)
        _unpack(source, unpacked)
        _begin_anew(unpacked / NAME)
        aside = _set_aside()
        (unpacked / NAME).replace(database())
        for film in (unpacked / "films").glob("*"):
            place = Path(settings.MEDIA_ROOT) / film.name
            shutil.rmtree(place, ignore_errors=True)
            place.parent.mkdir(parents=True, exist_ok=True)
            shutil.move(film, place)
        for unknown in _unknown_films():
            aside = aside or _aside()
            (aside / "films").mkdir(exist_ok=True)
            shutil.move(unknown, aside / "films" / unknown.name)
    return aside


def _unknown_films() -> list[Path]:
    """Folders beside the films that are no film of the database as it is now."""
    with contextlib.closing(sqlite3.connect(database())) as connection:
        has_films = _has_table(connection, "films_film")
        rows = connection.execute("SELECT id FROM films_film") if has_films else ()
        known = {str(uuid.UUID(pk)) for (pk,) in rows}
    media = Path(settings.MEDIA_ROOT)
    folders = list(media.iterdir()) if media.exists() else []
    return [f for f in folders if f.is_dir() and f.name not in known | {"incoming", "arriving"}]


def check_backup(source: Path) -> None:
    """Read a backup as `restore` would, and change nothing. Raises BadBackup."""
    with tempfile.TemporaryDirectory(dir=settings.HOME) as folder:
        _unpack(source, Path(folder))


def _unpack(source: Path, folder: Path) -> None:
    """Everything of a backup into a folder. Raises BadBackup for one that is not as it was made."""
    try:
        with zipfile.ZipFile(source) as archive:
            head = json.loads(archive.read("frequens-backup.json"))
            if head["format"] != FORMAT or head["version"] != 1:
                raise BadBackup("It was made by another version of Frequens.")
            for name, expected in head["sha256"].items():
                if not _NAMES.fullmatch(name):
                    raise BadBackup(f"It holds a file that is none of ours: {name!r}.")
                target = folder / name
                target.parent.mkdir(parents=True, exist_ok=True)
                digest = hashlib.sha256()
                with archive.open(name) as entry, target.open("wb") as file:
                    while chunk := entry.read(2**20):
                        digest.update(chunk)
                        file.write(chunk)
                if digest.hexdigest() != expected:
                    raise BadBackup(f"It is damaged: {name} is not as it was saved.")
            if NAME not in head["sha256"]:
                raise BadBackup("There is no database in it.")
    except (zipfile.BadZipFile, KeyError, TypeError, AttributeError, ValueError, zlib.error) as e:
        raise BadBackup("It is no backup of Frequens, or a part of one.") from e
    said = integrity(folder / NAME)
    if said != "ok":
        raise BadBackup(f"Its database is damaged: {said}.")


_NAMES = re.compile(r"frequens\.sqlite3|films/[0-9a-f-]{36}/[a-z][a-z0-9.-]{0,40}")


def _begin_anew(copy: Path) -> None:
    """From here on numbers of edits count another history: browsers that know more must see it."""
    with contextlib.closing(sqlite3.connect(copy)) as connection:
        if _has_table(connection, "reviews_lineage"):
            connection.execute("UPDATE reviews_lineage SET id = ?", [uuid.uuid4().hex])
            connection.commit()


def _aside() -> Path:
    prefix = f"before-restore-{time.strftime('%Y%m%d-%H%M%S')}-"
    return Path(tempfile.mkdtemp(prefix=prefix, dir=settings.HOME))


def _set_aside() -> Path | None:
    """Move the present database out of the way, with what is still in its log."""
    if not database().exists():
        return None
    aside = _aside()
    for path in database().parent.glob(database().name + "*"):
        path.replace(aside / path.name)
    return aside
