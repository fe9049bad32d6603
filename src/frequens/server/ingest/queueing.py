"""Giving a film to the background work."""

from __future__ import annotations

from collections.abc import Iterable

from django.db import transaction

from ..library.film_files import StoredFile, keep_stored
from ..library.models import Film
from .intake import plan_stages
from .tasks import take_in_film


@transaction.atomic
def queue_film(film: Film, kept: Iterable[StoredFile] = ()) -> None:
    """Save it as one that waits; what failed before is tried again.

    `kept`: what the store was given of it.
    """
    film.state = Film.State.WAITING
    film.fault_code = film.fault_text = ""
    film.lease_until, film.holder = None, ""
    film.save()
    keep_stored(kept)
    if not film.stages.exists():
        plan_stages(film)
    film.stages.filter(state="failed").update(state="waiting", share=0, fault_text="")
    # A queue that cannot take it now, its disk being full, is asked again by the worker.
    transaction.on_commit(lambda: take_in_film(str(film.pk)), robust=True)
