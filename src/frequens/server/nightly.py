"""Backups by themselves: every night into a folder, read back before they count."""

from __future__ import annotations

import datetime as dt
import logging
from pathlib import Path
from typing import NamedTuple

from django.conf import settings
from django.core.management.base import CommandError
from django.utils import timezone

from .keeping import BadBackup, back_up, check_backup

logger = logging.getLogger(__name__)
#: One that was not read back yet begins with it, and is none.
UNCHECKED = "unchecked-"


class GoodBackup(NamedTuple):
    """One that was read back after it was made."""

    at: dt.datetime
    bytes: int


def back_up_tonight() -> bool:
    """Save everything but the films where a setting says so; whether there is a new good one.

    What fails is told to the log, and changes nothing of the backups there are.
    """
    folder: Path | None = settings.BACKUPS
    if folder is None:
        return False
    name = f"frequens-{timezone.now():%Y-%m-%d-%H%M%S}.zip"
    made = folder / f"{UNCHECKED}{name}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        back_up(made, films=False)
        check_backup(made)
        made.replace(folder / name)
    except (BadBackup, CommandError, OSError) as fault:
        made.unlink(missing_ok=True)
        logger.error("Tonight's backup failed: %s", fault)
        return False
    for old in _kept()[settings.BACKUPS_KEPT :]:
        old.unlink(missing_ok=True)
    return True


def last_good() -> GoodBackup | None:
    """The newest backup that was read back; None where there is none."""
    kept = _kept()
    if not kept:
        return None
    found = kept[0].stat()
    return GoodBackup(dt.datetime.fromtimestamp(found.st_mtime, dt.UTC), found.st_size)


def _kept() -> list[Path]:
    """The newest first."""
    folder: Path | None = settings.BACKUPS
    found = folder.glob("frequens-*.zip") if folder is not None and folder.exists() else ()
    return sorted(found, reverse=True)
