"""Background work: what the worker does with films."""

from huey import crontab, signals
from huey.contrib.djhuey import HUEY, db_periodic_task, db_task, on_startup

from .intake import UNFINISHED, forgotten_films, take_in, tell_broken_uploads
from .models import Film


@db_task()
def take_in_film(film_id: str) -> None:
    """Take a film in; one that another worker still holds is tried again later."""
    wait = take_in(film_id)
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
    if HUEY.pending_count() == 0:
        for film_id in forgotten_films():
            take_in_film(str(film_id))


@HUEY.signal(signals.SIGNAL_ERROR)
def leave_no_film_hanging(signal: str, task: object, error: Exception | None = None) -> None:
    """A fault of ours must not leave a film working for ever."""
    arguments = getattr(task, "args", None)
    if arguments:
        Film.objects.filter(pk=arguments[0], state__in=UNFINISHED).update(
            state=Film.State.FAILED,
            fault_code="internal",
            fault_text="Frequens itself failed on this film. It is kept: try again, or tell us.",
            lease_until=None,
        )
