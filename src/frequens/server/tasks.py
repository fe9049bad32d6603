"""Background work of the whole installation."""

from huey import crontab
from huey.contrib.djhuey import db_periodic_task

from .ingest.pieces_in import give_up_old
from .nightly import back_up_tonight


@db_periodic_task(crontab(minute="30", hour="2"))
def back_up_every_night() -> None:
    """At half past two, UTC: nobody marks at that hour."""
    back_up_tonight()


@db_periodic_task(crontab(minute="45", hour="3"))
def give_up_old_uploads() -> None:
    """Films by pieces that nobody went on with."""
    give_up_old()
