"""Background work of the whole installation."""

from huey import crontab
from huey.contrib.djhuey import db_periodic_task

from .nightly import back_up_tonight


@db_periodic_task(crontab(minute="30", hour="2"))
def back_up_every_night() -> None:
    """At half past two, UTC: nobody marks at that hour."""
    back_up_tonight()
