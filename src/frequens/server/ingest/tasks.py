"""Background work: what the worker does with films."""

from threading import BoundedSemaphore

from django.conf import settings
from huey import crontab, signals
from huey.contrib.djhuey import HUEY, db_periodic_task, db_task, on_startup

from frequens.words.spoken import films as words

from ..library.film_files import remove_leftovers
from ..library.models import Film
from .copies import drop_old_copies
from .intake import UNFINISHED, forgotten_films, is_unfinished, take_in, tell_broken_uploads

#: One worker is always free for what is quick, so that frames can be looked at soon.
_heavy = BoundedSemaphore(max(1, settings.WORKERS - 1))
#: How long heavy work waits before it asks again for its turn, seconds.
TURN_S = 1


@db_task(priority=1)
def take_in_film(film_id: str) -> None:
    """Take a film in as far as it is quick; one that another worker holds is tried again later."""
    wait = take_in(film_id, is_quick=True)
    if wait is not None:
        take_in_film.schedule(args=(film_id,), delay=wait)
    elif is_unfinished(film_id):
        finish_film(film_id)


@db_task()
def finish_film(film_id: str) -> None:
    """What takes long, when it is its turn."""
    if not _heavy.acquire(blocking=False):
        finish_film.schedule(args=(film_id,), delay=TURN_S)
        return
    try:
        wait = take_in(film_id)
    finally:
        _heavy.release()
    if wait is not None:
        take_in_film.schedule(args=(film_id,), delay=wait)


@on_startup()
def resume_films() -> None:
    """A worker that starts takes up what a killed one left behind."""
    tell_broken_uploads()
    for film_id in Film.objects.filter(state__in=UNFINISHED).values_list("pk", flat=True):
        take_in_film(str(film_id))


@db_periodic_task(crontab(minute="*"))
def take_up_forgotten_films() -> None:
    """Films that wait and stand in no queue: it could not take them, or lost them."""
    # What waits for its turn is scheduled, and not forgotten.
    if HUEY.pending_count() == HUEY.scheduled_count() == 0:
        for film_id in forgotten_films():
            take_in_film(str(film_id))


@db_periodic_task(crontab(minute="*/10"))
def leave_nothing_of_removed_films() -> None:
    """What the films' store could not remove when it was asked."""
    remove_leftovers()


@db_periodic_task(crontab(minute="30", hour="3"))
def drop_copies_nobody_uses() -> None:
    """Where a setting says so: copies of sessions that were coded long ago."""
    drop_old_copies()


@HUEY.signal(signals.SIGNAL_ERROR)
def leave_no_film_hanging(signal: str, task: object, error: Exception | None = None) -> None:
    """A fault of ours must not leave a film working for ever."""
    arguments = getattr(task, "args", None)
    if arguments:
        Film.objects.filter(pk=arguments[0], state__in=UNFINISHED).update(
            state=Film.State.FAILED,
            fault_code="internal",
            fault_text=words.INTERNAL,
            lease_until=None,
        )
