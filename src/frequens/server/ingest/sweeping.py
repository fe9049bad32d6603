"""Clearing up before the house opens: what killed uploads and removals left on the disk."""

from __future__ import annotations

import shutil
from pathlib import Path

from django.conf import settings

from ..library.film_store import COMING
from ..library.models import REMOVED
from .receive import incoming_folder


def sweep() -> None:
    """Remove parts of uploads and of copies from a store, and films whose removal was cut short.

    Only while nobody serves. A folder the database merely does not know stays: the database may be
    an older one.
    """
    shutil.rmtree(incoming_folder(), ignore_errors=True)
    for coming in Path(settings.MEDIA_ROOT).glob(f"*/{COMING}*"):
        coming.unlink(missing_ok=True)
    for folder in Path(settings.MEDIA_ROOT).glob(f"{REMOVED}*"):
        shutil.rmtree(folder, ignore_errors=True)
