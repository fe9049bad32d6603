"""Whether everything is as it should be: for whoever watches the server, and `frequens check`."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from typing import NamedTuple

from django.conf import settings
from django.core.checks import run_checks
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, JsonResponse
from django.utils import timezone

from frequens import __version__

from .keeping import ELSEWHERE, database, integrity, is_own_file
from .library.film_files import StoredFile
from .library.film_store import StoreFault, film_store
from .nightly import last_good

#: A backup a night: older than this, and something is wrong.
LATE_DAYS = 2


class Check(NamedTuple):
    """One thing looked at, and what there is to say of it in a line."""

    name: str
    is_good: bool
    said: str


def health(request: HttpRequest) -> JsonResponse:
    """For a machine that asks every few seconds: 200 where a mark could be saved, else 503."""
    found = [_database_answers(), _disk()]
    good = all(check.is_good for check in found)
    body = {
        "status": "ok" if good else "failing",
        "version": __version__,
        "checks": {check.name: check.said for check in found},
    }
    return JsonResponse(body, status=200 if good else 503, headers={"Cache-Control": "no-store"})


def installation() -> list[Check]:
    """All there is to look at, also what takes a while; nothing is changed by it."""
    looks: list[Callable[[], Check]] = [
        *(_folder, _whole, _migrated, _disk, _films, _backups, _screens, _settings),
    ]
    return [look() for look in looks]


def _database_answers() -> Check:
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT COUNT(*) FROM django_migrations")
    except DatabaseError:
        return Check("database", False, "does not answer")
    return Check("database", True, "answers")


def _disk() -> Check:
    free = shutil.disk_usage(settings.HOME).free
    said = f"{free / 1e9:.1f} GB free"
    return Check("disk", free > settings.DISK_RESERVE_BYTES, said)


def _folder() -> Check:
    mode = settings.HOME.stat().st_mode & 0o777
    said = "its owner's alone" if mode == 0o700 else f"open to others ({mode:03o})"
    return Check("folder", mode == 0o700, said)


def _whole() -> Check:
    if not is_own_file():
        return _database_answers()
    if not database().exists():
        return Check("database", True, "none yet; `serve` makes it")
    said = integrity(database())
    return Check("database", said == "ok", "whole" if said == "ok" else said)


def _migrated() -> Check:
    if is_own_file() and not database().exists():
        return Check("migrations", True, "none yet")
    executor = MigrationExecutor(connection)
    waiting = executor.migration_plan(executor.loader.graph.leaf_nodes())
    said = f"{len(waiting)} wait; `serve` brings them in" if waiting else "all in"
    return Check("migrations", not waiting, said)


def _films() -> Check:
    store = film_store()
    if store is not None:
        try:
            store.look()
        except StoreFault:
            return Check("films", False, "their store does not answer, or has no such bucket")
        return Check("films", True, "their store answers")
    try:
        away = StoredFile.objects.count()
    except DatabaseError:
        away = 0
    if away:
        return Check("films", False, f"{away} files are in a store FREQUENS_FILMS does not name")
    return Check("films", True, "in their folder")


def _backups() -> Check:
    if not is_own_file():
        return Check("backups", settings.BACKUPS is None, ELSEWHERE)
    if settings.BACKUPS is None:
        return Check("backups", True, "none by themselves; FREQUENS_BACKUPS says where to")
    good = last_good()
    if good is None:
        return Check("backups", False, "none yet that could be read back")
    days = (timezone.now() - good.at).days
    said = f"the last good one {good.at:%Y-%m-%d %H:%M} UTC, {good.bytes / 1e6:.1f} MB"
    return Check("backups", days < LATE_DAYS, said)


def _screens() -> Check:
    there = (settings.WEB_DIST / "index.html").exists()
    return Check("screens", there, "built" if there else "not built: npm run build in web/")


def _settings() -> Check:
    said = [str(message.msg) for message in run_checks() if message.is_serious()]
    return Check("settings", not said, "; ".join(said) or "sound")
