"""Review copies: what they take, dropping them to save room, and making them again."""

from __future__ import annotations

import datetime as dt
import os
from dataclasses import dataclass

from django.conf import settings
from django.db import transaction
from django.db.models import Exists, OuterRef
from django.utils import timezone

from frequens.media.ingest.review import ReviewOptions, expected

from ..coding.models import Edit
from ..library.models import Film, Stage


def review_options() -> ReviewOptions:
    """How copies are made here."""
    return ReviewOptions(lines=settings.REVIEW_LINES, mb_per_min=settings.REVIEW_MB_PER_MIN)


@dataclass(frozen=True, slots=True)
class Copy:
    """What a film's copy takes, in bytes; before it is made that and `seconds` are estimates.

    `key` names this very file: a copy made anew is another.
    """

    bytes: int | None = None
    seconds: float | None = None
    key: str = ""


def copy_of(film: Film, is_made: bool) -> Copy:
    """The film's review copy, made or to be made."""
    if is_made:
        kept = film.stored(film.review_path)
        if kept is not None:
            return Copy(kept.bytes, None, f"{kept.written_ns:x}")
        try:
            found = film.review_path.stat()
        except FileNotFoundError:
            return Copy()
        return Copy(found.st_size, None, f"{found.st_mtime_ns:x}")
    if not (film.frames and film.duration_us and film.width and film.height):
        return Copy()
    about = expected(film.width, film.height, film.frames, film.duration_us / 1e6, review_options())
    # The encoder works on several cores; more than four help it little.
    return Copy(about.bytes, about.cpu_s / min(4, os.cpu_count() or 1))


def drop_copy(film: Film) -> bool:
    """Remove a film's review copy to save room; whether there was one that can be made again."""
    if not film.has(film.original):
        return False
    with transaction.atomic():
        copies = film.stages.filter(name="review", state=Stage.State.DONE)
        dropped = copies.update(state=Stage.State.DROPPED, share=0)
    if dropped:
        film.discard(film.review_path)
    return bool(dropped)


def drop_old_copies() -> int:
    """Drop copies of coded sessions nobody has changed for `COPIES_DAYS`; returns how many."""
    if settings.COPIES_DAYS <= 0:
        return 0
    since = timezone.now() - dt.timedelta(days=settings.COPIES_DAYS)
    edits = Edit.objects.filter(session=OuterRef("session"))
    films = Film.objects.filter(state=Film.State.READY, created_at__lt=since)
    films = films.filter(Exists(edits), ~Exists(edits.filter(created_at__gte=since)))
    films = films.filter(stages__name="review", stages__state=Stage.State.DONE)
    return sum(drop_copy(film) for film in films)
